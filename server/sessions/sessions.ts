import 'express-session'
import initStore from 'connect-session-sequelize'
import type { Request, RequestHandler } from 'express'
import session, { type SessionData } from 'express-session'
import { DataTypes, Op, QueryTypes } from 'sequelize'
import { firstLetters } from '../../core/bib/clean'
import type { Context } from '../base/context'
import { hashOf } from '../base/hash'

declare module 'express-session' {
  interface SessionData {
    userId?: number
    /** The password was made by an administrator: first of all one of one's own is chosen. */
    mustChange?: boolean
    /** The browser, in its own words. */
    agent?: string
    /** The demo's visitor signed out on purpose: do not sign in again by itself. */
    stayOut?: boolean
  }
}

const DAY = 24 * 3_600_000
const LIFE = 30 * DAY

/** Signed-in browsers, kept in the database for all processes. Only a change writes, and once a day their use. */
export function sessionStore(context: Context): { sessions: RequestHandler; close(): void } {
  const { db, settings } = context
  const Sessions = db.sequelize.define(
    'Session',
    {
      sid: { type: DataTypes.STRING, primaryKey: true },
      expires: DataTypes.DATE,
      data: DataTypes.TEXT,
      userId: DataTypes.INTEGER.UNSIGNED,
      agent: DataTypes.STRING,
    },
    { tableName: 'sessions', timestamps: true, underscored: true },
  )
  const Store = initStore(session.Store)
  /** Sessions whose use this process wrote down today: a request asks the database for it once. */
  const touched = new Set<string>()
  const forget = setInterval(() => touched.clear(), DAY / 2)
  forget.unref()
  class LightStore extends Store {
    /** Each request reads its session: that needs no model built of it. */
    override get = (sid: string, done?: (e: unknown, data?: SessionData | null) => void): Promise<unknown> =>
      db.sequelize
        .query<{ data: string }>('SELECT data FROM sessions WHERE sid = ? AND expires > NOW(3)', {
          type: QueryTypes.SELECT,
          replacements: [sid],
        })
        .then(
          ([row]) => done?.(null, row ? (JSON.parse(row.data) as SessionData) : null),
          (e: unknown) => done?.(e),
        )
    override touch = (sid: string, data: SessionData, done?: (e?: unknown) => void): Promise<unknown> => {
      if (touched.has(sid)) return Promise.resolve(done?.())
      touched.add(sid)
      const expires = new Date(Date.now() + LIFE)
      return Sessions.update(
        { expires },
        { where: { sid, expires: { [Op.lt]: new Date(Date.now() + LIFE - DAY) } } },
      ).then(
        () => done?.(),
        // that it was used is not worth an error where nothing can be written
        () => done?.(),
      )
    }
  }
  const store = new LightStore({
    db: db.sequelize,
    table: 'Session',
    checkExpirationInterval: 15 * 60_000,
    expiration: LIFE,
    extendDefaultFields: (defaults: object, data: SessionData) => ({
      ...defaults,
      userId: data.userId ?? null,
      agent: data.agent ?? '',
    }),
  } as never)
  const secure = settings.address.startsWith('https:')
  const sessions = session({
    // with this beginning browsers take it only from this host, over https and for all of it
    name: secure ? '__Host-vine' : 'vine',
    secret: settings.secret,
    store,
    resave: false,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'lax', secure, path: '/', maxAge: LIFE },
  })
  return { sessions, close: () => (clearInterval(forget), store.stopExpiringSessions()) }
}

/** Begins a session of its own for a user: what was known before of the browser's is forgotten. */
export async function beginSession(req: Request, user: { id: number; mustChange: boolean } | undefined): Promise<void> {
  await new Promise<void>((done, fail) => req.session.regenerate(e => (e ? fail(e as Error) : done())))
  if (!user) return
  req.session.userId = user.id
  if (user.mustChange) req.session.mustChange = true
  req.session.agent = firstLetters(req.get('User-Agent') ?? '', 190)
}

export interface SessionLine {
  /** A name for it that opens nothing. */
  id: string
  agent: string
  began: Date
  /** Used on that day at the latest. */
  used: Date
  /** The one that asks. */
  here: boolean
}
const nameOf = (sid: string): string => hashOf(sid).slice(0, 16)

/** Where a user is signed in. */
export async function sessionsOf(context: Context, userId: number, sid: string): Promise<SessionLine[]> {
  const rows = await context.db.sequelize.query<{ sid: string; agent: string; created_at: Date; expires: Date }>(
    'SELECT sid, agent, created_at, expires FROM sessions WHERE user_id = :userId AND expires > NOW(3) ORDER BY created_at DESC',
    { type: QueryTypes.SELECT, replacements: { userId } },
  )
  return rows.map(r => ({
    id: nameOf(r.sid),
    agent: r.agent,
    began: new Date(r.created_at),
    used: new Date(new Date(r.expires).getTime() - LIFE),
    here: r.sid === sid,
  }))
}

/** Ends sessions of a user: the named one, or all but one. @returns how many */
export async function endSessions(
  context: Context,
  userId: number,
  which: { id: string } | { but: string | null },
): Promise<number> {
  const rows = await context.db.sequelize.query<{ sid: string }>('SELECT sid FROM sessions WHERE user_id = :userId', {
    type: QueryTypes.SELECT,
    replacements: { userId },
  })
  const sids = rows.map(r => r.sid).filter(sid => ('id' in which ? nameOf(sid) === which.id : sid !== which.but))
  if (sids.length)
    await context.db.sequelize.query('DELETE FROM sessions WHERE sid IN (:sids)', { replacements: { sids } })
  return sids.length
}
