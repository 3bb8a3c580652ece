/** What the team of the crossings wrote down about days, by how many days ago they were. */
export const CROSSINGS_NOTES: readonly { daysAgo: number; words: string }[] = [
  { daysAgo: 57, words: 'The last boat of the day was canceled for a week, for repairs.' },
  { daysAgo: 35, words: 'Winter timetable: one sailing a day fewer.' },
  { daysAgo: 16, words: 'Newsletter about winter fares, to 21,000 readers.' },
]
