import { expect, test } from 'vitest'
import { detailInWords, saysDetail, type DetailTest } from './eventDetails'

const DETAILS = { vehicle: 'Car', seats: 4, member: true, note: '' }
test.each<[DetailTest, boolean, string]>([
  [{ name: 'vehicle', is: 'known' }, true, 'vehicle is said'],
  [{ name: 'note', is: 'known' }, true, 'note is said'],
  [{ name: 'trailer', is: 'known' }, false, 'trailer is said'],
  [{ name: 'constructor', is: 'known' }, false, 'constructor is said'],
  [{ name: 'vehicle', is: 'oneOf', texts: ['van', 'car'] }, true, 'vehicle is van or car'],
  [{ name: 'vehicle', is: 'oneOf', texts: [] }, false, 'vehicle is '],
  [{ name: 'seats', is: 'oneOf', texts: ['4'] }, true, 'seats is 4'],
  [{ name: 'member', is: 'oneOf', texts: ['true'] }, true, 'member is true'],
  [{ name: 'seats', is: 'least', number: 4 }, true, 'seats is at least 4'],
  [{ name: 'seats', is: 'most', number: 3 }, false, 'seats is at most 3'],
  [{ name: 'seats', is: 'least', number: null }, false, 'seats is at least null'],
  // A text is no number, whatever it says.
  [{ name: 'vehicle', is: 'least', number: 0 }, false, 'vehicle is at least 0'],
])('%j', (asked, says, words) => {
  expect(saysDetail(asked, DETAILS)).toBe(says)
  expect(saysDetail(asked, null)).toBe(false)
  expect(detailInWords(asked)).toBe(words)
})
