/** On which day a letter to an author is asked after; of those written before, a week after the last. */
export const reminders: string[] = [
  'ALTER TABLE author_letters ADD COLUMN IF NOT EXISTS remind_on DATE NULL AFTER declined',
  'ALTER TABLE author_letters ADD KEY IF NOT EXISTS remind_on (remind_on)',
  `UPDATE author_letters SET remind_on = JSON_VALUE(wrote, '$[last]') + INTERVAL 7 DAY WHERE NOT declined AND remind_on IS NULL`,
]
