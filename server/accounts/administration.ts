import { randomInt } from 'node:crypto'
import { Router, type RequestHandler } from 'express'
import { QueryTypes } from 'sequelize'
import { object, string } from 'yup'
import type { Context } from '../context'
import { check, notFound, Problem } from '../problem'
import { addUser, emailShape, userOf } from './accounts'
import { hashPassword } from './passwords'
import { endSessions } from './sessions'

const newAccount = object({
  email: emailShape,
  name: string().trim().max(190, 'A name may have 190 letters.').required('Give a name.'),
})

/** Letters that are not taken for one another when read aloud or from paper. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789'
/** A password for one sign-in: sixteen letters in fours. */
const passingPassword = (): string =>
  Array.from({ length: 4 }, () => Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)]).join('')).join(
    '-',
  )

/** Only administrators pass; to others it does not exist. Their own inquiries are theirs: nobody reads them here. */
function administratorsOnly(c: Context): RequestHandler {
  return async (req, _res, next) => {
    const user = await c.db.users.findByPk(userOf(req), { attributes: ['role', 'mustChange'], raw: true })
    if (user?.role !== 'administrator' || user.mustChange) throw notFound()
    next()
  }
}

/** Accounts, for administrators: who there is, a new one, a new password, ending what is signed in. */
export function administrationRoutes(c: Context): Router {
  const router = Router()
  router.use(administratorsOnly(c))
  router.get('/', async (_req, res) => {
    const rows = await c.db.sequelize.query<Record<string, unknown>>(
      `SELECT u.id, u.email, u.name, u.role, u.must_change AS mustChange,
         (SELECT COUNT(*) FROM memberships m WHERE m.user_id = u.id AND m.role = 'owner') AS inquiries,
         (SELECT COUNT(*) FROM sessions s WHERE s.user_id = u.id AND s.expires > NOW(3)) AS sessions
       FROM users u ORDER BY u.name, u.id`,
      { type: QueryTypes.SELECT },
    )
    res.json(
      rows.map(r => ({
        ...r,
        mustChange: Boolean(r.mustChange),
        inquiries: Number(r.inquiries),
        sessions: Number(r.sessions),
      })),
    )
  })
  router.post('/', async (req, res) => {
    const { email, name } = check(newAccount, req.body)
    if (await c.db.users.count({ where: { email } }))
      throw new Problem(409, 'account-there', 'There is an account of this address already.', {
        fields: [{ field: 'email', said: 'There is an account of this address already.' }],
      })
    const password = passingPassword()
    const id = await addUser(c, email, name, password, { mustChange: true })
    res.status(201).json({ id, password })
  })
  /** Gives an account a password for one sign-in, and ends what is signed in. */
  router.post('/:account/password', async (req, res) => {
    const id = Number(req.params.account)
    if (!(await c.db.users.count({ where: { id } }))) throw notFound()
    const password = passingPassword()
    await c.db.users.update({ passwordHash: await hashPassword(password), mustChange: true }, { where: { id } })
    res.status(201).json({ password, ended: await endSessions(c, id, { but: null }) })
  })
  router.delete('/:account/sessions', async (req, res) => {
    const id = Number(req.params.account)
    if (!(await c.db.users.count({ where: { id } }))) throw notFound()
    res.json({ ended: await endSessions(c, id, { but: null }) })
  })
  return router
}
