import { connect } from './db/connection'
import { models, type Db } from './db/models'
import { deedKinds } from './deed-kinds'
import type { DeedKinds } from './deeds/deeds-service'
import { outsideClient, type OutsideClient } from './connect/http'
import type { Settings } from './settings'

/** What every service is given: settings, tables and the way outside. Holds no state of an inquiry. */
export interface Context {
  settings: Settings
  db: Db
  outside: OutsideClient
  deedKinds: DeedKinds
}

export function createContext(settings: Settings): Context {
  return { settings, db: models(connect(settings.database)), outside: outsideClient(settings.outside), deedKinds }
}
