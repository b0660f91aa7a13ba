import { parseArgs } from 'node:util'
import { addUser } from './accounts/accounts-service'
import { weakness } from './accounts/passwords'
import { standOn } from './db/desk-day'
import { createContext } from './create-context'
import { migrate } from './migrations/migrations'
import { keepKey } from './connect/connectors'
import { memberGiven } from '../core/schema/api/inquiries'
import { change } from './db/revision'
import { addMember } from './inquiries/members-service'
import { forgetUser } from './inquiries/delete'
import { readSettings } from './base/settings'

/**
 * What has no page: `admin migrate`, `admin add-user --email --name` (password from VINE_PASSWORD),
 * `admin set-role --email --role administrator|student`,
 * `admin set-key --connector` (the key of a server that asks for one, from VINE_KEY; without it the key is forgotten),
 * `admin add-member --inquiry --email --role owner|reader`, `admin stand-on [--day 2026-10-05]` (desk time; without a day it is today again), `admin forget-user --email`.
 */
const { positionals, values } = parseArgs({
  allowPositionals: true,
  options: {
    email: { type: 'string' },
    name: { type: 'string' },
    role: { type: 'string' },
    day: { type: 'string' },
    connector: { type: 'string' },
    inquiry: { type: 'string' },
  },
})
const c = createContext(readSettings())
await migrate(c.db.sequelize)
switch (positionals[0]) {
  case 'migrate':
    break
  case 'add-user': {
    const password = process.env.VINE_PASSWORD
    if (!values.email || !password) throw new Error('add-user needs --email, and the password in VINE_PASSWORD')
    const have = await c.db.users.findOne({ where: { email: values.email.toLowerCase() } })
    const weak = weakness(password, [values.email, values.name ?? ''])
    if (!have && weak) throw new Error(weak)
    if (!have) await addUser(c, values.email, values.name ?? values.email, password)
    break
  }
  case 'set-role': {
    if (values.role !== 'student' && values.role !== 'administrator')
      throw new Error('set-role needs --role student or --role administrator')
    const [n] = await c.db.users.update({ role: values.role }, { where: { email: (values.email ?? '').toLowerCase() } })
    if (!n && !(await c.db.users.count({ where: { email: (values.email ?? '').toLowerCase() } })))
      throw new Error('There is no such account.')
    break
  }
  case 'set-key': {
    const of = c.settings.outside.connectors.find(x => x.id === values.connector)
    if (!of)
      throw new Error('set-key needs --connector with the id of a connector of the settings, and the key in VINE_KEY')
    await keepKey(c, of.id, process.env.VINE_KEY)
    break
  }
  case 'add-member': {
    const id = Number(values.inquiry)
    if (!(await c.db.inquiries.count({ where: { id } }))) throw new Error('add-member needs --inquiry with its number')
    const given = await memberGiven.validate({ email: values.email, role: values.role })
    await change(c, id, t => addMember(c, id, given, t))
    break
  }
  case 'forget-user': {
    const user = await c.db.users.findOne({ where: { email: values.email ?? '' }, raw: true })
    if (user) await forgetUser(c, user.id)
    break
  }
  case 'stand-on':
    await standOn(c.db, values.day ?? null)
    break
  default:
    throw new Error('Usage: admin migrate | add-user | set-role | set-key | add-member | forget-user | stand-on')
}
await c.db.sequelize.close()
