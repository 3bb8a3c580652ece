import { expect, test } from 'vitest'
import type { TableColumn } from './tableColumn'
import { tableCsv } from './tableCsv'

test('a table is exported with plain numbers, and hostile text stays text', () => {
  interface Row {
    name: string
    lift: number | null
  }
  const columns: TableColumn<Row>[] = [
    { id: 'name', header: 'Variant, name', value: ({ name }) => name, show: ({ name }) => `“${name}”` },
    { id: 'track', header: 'Track', value: () => null, isDrawing: true },
    { id: 'lift', header: 'Lift', value: ({ lift }) => lift, show: () => 'shown', isNumeric: true },
  ]
  const rows = [
    { name: '=HYPERLINK("http://evil.example")', lift: -0.05 },
    { name: 'Warm "red"', lift: null },
    { name: "-2+3+cmd|' /C calc'!A0", lift: 0 },
  ]
  expect(tableCsv(columns, rows).split('\r\n')).toEqual([
    '"Variant, name",Lift',
    `"'=HYPERLINK(""http://evil.example"")",-0.05`,
    '"Warm ""red""",',
    `"'-2+3+cmd|' /C calc'!A0",0`,
  ])
})
