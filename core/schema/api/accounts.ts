import { object, string } from 'yup'
import { endpoint } from './endpoint'
import { flag, list, moment, oneOf, orNull, shape, text, whole } from './parts'

/** Letters of a password at most: hashing is no work for whole books. */
export const LONGEST_PASSWORD = 200

export const emailShape = string()
  .trim()
  .lowercase()
  .max(190, 'An e-mail address may have 190 letters.')
  .email('This is not an e-mail address.')
  .required('Your e-mail address is missing.')
export const credentials = object({
  email: emailShape,
  password: string().max(LONGEST_PASSWORD).required('Your password is missing.'),
})
export const newPassword = object({
  current: string().max(LONGEST_PASSWORD).required('Your present password is missing.'),
  password: string().max(1000).required('The new password is missing.'),
})
export const newAccount = object({
  email: emailShape,
  name: string().trim().max(190, 'A name may have 190 letters.').required('Give a name.'),
})

const role = oneOf(['student', 'administrator'])
const user = shape({ id: whole(), name: text(), email: text(), role, mustChange: flag() })
const ended = shape({ ended: whole() })

export const accountsApi = {
  session: endpoint('GET', '/session', {
    does: 'Who is signed in. In the demo, its student is signed in by this.',
    answer: shape({ user: orNull(user), demo: flag() }),
  }),
  signIn: endpoint('POST', '/session', {
    does: 'Signs in.',
    status: 200,
    body: credentials,
    answer: shape({ user }),
  }),
  signOut: endpoint('DELETE', '/session', { does: 'Signs out.' }),
  changePassword: endpoint('PUT', '/account/password', {
    does: 'Changes one’s password, and ends all other sessions.',
    body: newPassword,
    answer: ended,
  }),
  sessions: endpoint('GET', '/account/sessions', {
    does: 'Where one is signed in.',
    answer: list(shape({ id: text(), agent: text(), began: moment(), used: moment(), here: flag() })),
  }),
  endSession: endpoint('DELETE', '/account/sessions/:session', { does: 'Ends one of them.' }),
  endOtherSessions: endpoint('DELETE', '/account/sessions', { does: 'Ends all but the one that asks.', answer: ended }),
  accounts: endpoint('GET', '/accounts', {
    does: 'All accounts, for administrators.',
    answer: list(
      shape({
        id: whole(),
        email: text(),
        name: text(),
        role,
        mustChange: flag(),
        inquiries: whole(),
        sessions: whole(),
      }),
    ),
  }),
  addAccount: endpoint('POST', '/accounts', {
    does: 'A new account, with a password for one sign-in.',
    body: newAccount,
    answer: shape({ id: whole(), password: text() }),
  }),
  passingPassword: endpoint('POST', '/accounts/:account/password', {
    does: 'A new password for one sign-in; what is signed in ends.',
    answer: shape({ password: text(), ended: whole() }),
  }),
  endAccountSessions: endpoint('DELETE', '/accounts/:account/sessions', {
    does: 'Ends all sessions of an account.',
    answer: ended,
  }),
}
