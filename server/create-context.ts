import type { Context } from './base/context'
import type { Settings } from './base/settings'
import { outsideClient } from './connect/http'
import { connect } from './db/connection'
import { deedKinds } from './deed-kinds'
import { models } from './models'

/** Puts together what every service is given. */
export function createContext(settings: Settings): Context {
  return { settings, db: models(connect(settings.database)), outside: outsideClient(settings.outside), deedKinds }
}
