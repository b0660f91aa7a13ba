import { readFileSync } from 'node:fs'
import { readConnector, type Connector } from '../../core/connectors/description'
import { catalogueShape } from '../../core/schema/catalogue'
import { libraryShape } from '../../core/schema/library'
import { object, string, number, array, boolean, type InferType } from 'yup'

const host = string().trim().required()
// ids of numbers alone are those of libraries that students set up
const libraryId = string()
  .matches(/^[a-z][a-z0-9-]*$/)
  .max(40)
const outsideShape = object({
  /** Libraries that everybody here may ask, in order; each is known by its id. */
  libraries: array(libraryShape.shape({ id: libraryId.required() }).required())
    .min(1)
    .required()
    .test('once', 'Two libraries have one id.', list => new Set(list?.map(l => l.id)).size === (list?.length ?? 0)),
  /** A file that names libraries with the addresses of their profiles: students choose from it. */
  directory: string().default(undefined),
  catalogues: array(catalogueShape.required()).required(),
  /** Vocabularies in SKOS in which everybody here may look words up. */
  vocabularies: array(
    object({ id: libraryId.required(), name: string().trim().required().max(100), address: string().required() }),
  ).default([]),
  /** Address before a DOI, ending in a slash. */
  resolver: string().required(),
  /** Networks that count as outside although they are private, as CIDR: a library's own servers, say. */
  privateNetworks: array(string().required()).default([]),
  /** Further hosts that may be fetched: publishers' platforms. */
  alsoFetch: array(host).default([]),
  /** Whether texts may be fetched from any public host, by https alone. */
  anyPublicHost: boolean().default(false),
  /** Where mail is handed over; without it nothing is mailed. */
  mail: object({
    host: string().required(),
    port: number().required(),
    secure: boolean().default(false),
    from: string().required(),
    /** Bytes of files that one letter may carry: many servers take no letter of more than ten million. */
    mostBytes: number().integer().min(0).default(7_000_000),
    /** Letters that a user may send in an hour. */
    mostLetters: number().integer().min(0).default(20),
  }).default(undefined),
  /** A made-up world that is told whenever the desk moves to another day. */
  desk: string().default(undefined),
  /** Sends hosts of a suffix to one address, for the made-up world. */
  loopback: object({ suffix: string().required(), address: string().required(), port: number().required() }).default(
    undefined,
  ),
})
export type Outside = InferType<typeof outsideShape> & {
  /** Servers that answer in JSON, described by data: see docs/connectors.md. */
  connectors: Connector[]
}

export interface Settings {
  port: number
  /** On which figures of the process are told to this machine alone; nothing without it. */
  metricsPort?: number
  /** Under which the application is reached from outside, without a slash at its end: for feeds and mail. */
  address: string
  database: {
    host: string
    port: number
    name: string
    user: string
    password: string
    /** Its socket, where it runs on this machine: a statement costs half of what it does by the port. */
    socket?: string
    /** Milliseconds within which a connection has to be made; four seconds where nothing is said. */
    connectMs?: number
    /** A folder on the disk of the database, where that is this machine's; its room is watched. */
    folder?: string
    /** Room that is left alone: below it nothing more is taken. */
    reserveBytes: number
  }
  /** 32 bytes or more: signs sessions and encrypts gate cookies. */
  secret: string
  outside: Outside
  /** Folder of the built interface; undefined where another server gives it out. */
  webFolder?: string
  /** Folder of the CSL styles and locales. */
  cslFolder: string
  /** E-mail of the account that visitors are signed in to, in the demo alone. */
  demoAccount?: string
  /** Program that lays the demo, and the day on which it begins. */
  demoScript?: string
  demoDay: string
  /** Seconds after which a job whose worker is silent is taken over. */
  leaseSeconds: number
  /** Seconds after which a job that makes no step is ended. */
  silenceSeconds: number
  /** So often a user may have catalogues asked in five minutes while they wait. */
  countsMost: number
  production: boolean
  /** Whether every answer is held against what its address promises: in tests. */
  checkAnswers: boolean
  /** Behind a proxy that terminates TLS: its hops are trusted and cookies are secure. */
  behindProxy: boolean
}

interface GivenOutside {
  connectors?: unknown[]
  libraries?: unknown[]
  library?: { gate?: object }
}

/** Settings of before there could be several libraries name one, whose gate is told that its terms are accepted. */
function inList({ library, ...given }: GivenOutside): Omit<GivenOutside, 'library'> {
  if (!library || given.libraries) return given
  const fields = { also: [{ name: 'terms', value: 'accepted' }] }
  return {
    ...given,
    libraries: [{ id: 'home', ...library, ...(library.gate ? { gate: { fields, ...library.gate } } : {}) }],
  }
}

/** Settings from the environment. @throws Error naming the variable that is missing or wrong */
export function readSettings(env: NodeJS.ProcessEnv = process.env): Settings {
  const need = (name: string): string => {
    const v = env[name]
    if (!v) throw new Error(`The setting ${name} is missing.`)
    return v
  }
  const file = env.VINE_OUTSIDE ?? 'settings/demo.json'
  const { connectors = [], ...given } = inList(JSON.parse(readFileSync(file, 'utf8')) as GivenOutside)
  const outside: Outside = { ...outsideShape.validateSync(given), connectors: connectors.map(readConnector) }
  if (env.STANDINS_PORT && outside.loopback) outside.loopback.port = Number(env.STANDINS_PORT)
  const secret = need('VINE_SECRET')
  if (secret.length < 32) throw new Error('The setting VINE_SECRET needs 32 letters or more.')
  if (env.MAIL_PORT && outside.loopback && outside.mail) outside.mail.port = Number(env.MAIL_PORT)
  return {
    port: Number(env.PORT ?? 4600),
    ...(env.METRICS_PORT ? { metricsPort: Number(env.METRICS_PORT) } : {}),
    address: (env.PUBLIC_ADDRESS ?? `http://127.0.0.1:${env.PORT ?? 4600}`).replace(/\/$/, ''),
    database: {
      host: env.DB_HOST ?? '127.0.0.1',
      port: Number(env.DB_PORT ?? 4610),
      name: env.DB_NAME ?? 'vinepath',
      user: env.DB_USER ?? 'vinepath',
      password: need('DB_PASSWORD'),
      ...(env.DB_SOCKET ? { socket: env.DB_SOCKET } : {}),
      ...(env.DB_FOLDER ? { folder: env.DB_FOLDER } : {}),
      reserveBytes: Number(env.RESERVE_MB ?? 200) * 1_000_000,
    },
    secret,
    outside,
    cslFolder: env.CSL_FOLDER ?? '/usr/share/citation-style-language',
    leaseSeconds: Number(env.LEASE_SECONDS ?? 15),
    silenceSeconds: Number(env.SILENCE_SECONDS ?? 900),
    countsMost: Number(env.COUNTS_MOST ?? 600),
    checkAnswers: env.VINE_CHECK_ANSWERS === '1',
    production: env.NODE_ENV === 'production',
    behindProxy: env.BEHIND_PROXY === '1',
    ...(env.WEB_FOLDER ? { webFolder: env.WEB_FOLDER } : {}),
    demoDay: env.DEMO_DAY ?? '2026-10-05',
    ...(env.DEMO_ACCOUNT ? { demoAccount: env.DEMO_ACCOUNT } : {}),
    ...(env.DEMO_SCRIPT ? { demoScript: env.DEMO_SCRIPT } : {}),
  }
}
