import { words } from '../shared/words'

/** What the words of this house mean, for whoever meets them for the first time. */
export function HelpPage() {
  return (
    <div className="page">
      <div className="page-head">
        <h1>What the words mean</h1>
        <span className="dim">the keys of a page are shown by ?</span>
      </div>
      <section className="sheet" aria-label="Words">
        {Object.entries(words).map(([word, meaning]) => (
          <div key={word} id={word.replace(/ /g, '-')} className="line" style={{ gridTemplateColumns: '180px minmax(0, 1fr)' }}>
            <a href={`#${word.replace(/ /g, '-')}`} className="strong" style={{ color: 'inherit' }}>
              {word}
            </a>
            <span>{meaning}</span>
          </div>
        ))}
      </section>
    </div>
  )
}
