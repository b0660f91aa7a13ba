import type { Sequelize } from 'sequelize'
import type { Settings } from './settings'

/** The tables. Each room describes its own in its model, and adds them here: `declare module '../base/context'`. */
export interface Db {
  sequelize: Sequelize
}

/** What every service is given. Holds no state of an inquiry. Rooms add what they bring, as the tables. */
export interface Context {
  settings: Settings
  db: Db
}
