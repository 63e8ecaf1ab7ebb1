import { Button } from '@mantine/core'

/** What is shown, as a file: CSV or XLSX. */
export function SheetLinks({ file }: { file: (form: 'csv' | 'xlsx') => string }) {
  return (
    <Button.Group>
      <Button component="a" href={file('csv')} download px={10}>
        CSV
      </Button>
      <Button component="a" href={file('xlsx')} download px={10}>
        XLSX
      </Button>
    </Button.Group>
  )
}
