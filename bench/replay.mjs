// Ten lines of 100,000 orders and 8,000 deliveries over 60 days, always the same ones.
let seed = 1
const below = (n) => {
  seed = (seed * 48271) % 2147483647
  return seed % n
}
const begin = Date.UTC(2026, 9, 5, 6)
const days = 60
const at = (seconds) => `${new Date(begin + seconds * 1000).toISOString().slice(0, 19)}Z`
const sorted = (count) => Array.from({ length: count }, () => below(days * 86_400)).sort((a, b) => a - b)
const skus = Array.from({ length: 600 }, (_, i) => `LM-${i}`)
const stores = ['shop', 'market', 'portal', 'till']

for (let line = 0; line < 10; line++) {
  const replay = {
    from: at(0),
    stock: Object.fromEntries(skus.map((sku) => [sku, below(60)])),
    intake: { shop: 5, market: 15, portal: 60, till: 0 },
    publish: { shop: 5, market: 15, portal: 0, till: 240 },
    orders: sorted(100_000).map((s) => ({ at: at(s), store: stores[below(4)], sku: skus[below(600)], quantity: 1 + below(3) })),
    deliveries: sorted(8_000).map((s) => ({ at: at(s), sku: skus[below(600)], quantity: 5 + below(25) })),
  }
  console.log(JSON.stringify(replay))
}
