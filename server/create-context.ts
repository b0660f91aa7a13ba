import type { Context } from './base/context'
import type { Settings } from './base/settings'
import { outsideClient } from './connect/http'
import { connect } from './db/connection'
import { deedKinds } from './deed-kinds'
import { models } from './models'

/**
 * Puts together what every service is given.
 * @param told of every statement, in tests and benchmarks
 */
export function createContext(settings: Settings, told?: (statement: string, ms: number) => void): Context {
  return { settings, db: models(connect(settings.database, told)), outside: outsideClient(settings.outside), deedKinds }
}
