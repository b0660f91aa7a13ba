/** From which moment on the desk stood on which day; without a day it went with the calendar. */
export const deskDays: string[] = [
  'CREATE TABLE IF NOT EXISTS desk_days (began DATETIME(3) NOT NULL PRIMARY KEY, day DATE NULL) ENGINE=InnoDB',
  `INSERT IGNORE INTO desk_days (began, day) SELECT '2000-01-01', stands_on FROM clock WHERE id = 1`,
]
