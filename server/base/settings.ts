import { readFileSync } from 'node:fs'
import { readConnector, type Connector } from '../../core/connectors/description'
import { SCHEMAS } from '../../core/formats/records'
import { object, string, number, array, boolean, type InferType } from 'yup'

const host = string().trim().required()
const outsideShape = object({
  library: object({
    name: string().required(),
    /** Addresses of its KBART holdings files, one a package. */
    holdings: array(string().required()).min(1).required(),
    gate: object({
      template: string().required(),
      signIn: string().required(),
      suffix: host,
      terms: string().default(''),
      /** Files that a card may fetch in a day, where the library says so. */
      daily: number().integer().positive(),
      /** Told where one signs in: which card to take, in a made-up library. */
      hint: string().default(undefined),
    }).required(),
  }).required(),
  catalogues: array(
    object({
      id: string()
        .matches(/^[a-z][a-z0-9-]*$/)
        .required(),
      name: string().required(),
      /** Where it is searched (SRU); or where it is harvested (OAI-PMH), since it cannot be searched. */
      sru: string(),
      oai: string(),
      /** The set of a repository that is harvested; without it all of it. */
      set: string(),
      schema: string().oneOf(SCHEMAS).required(),
      /** Whether its records name copies open to all. */
      openCopies: boolean().default(false),
    })
      .test(
        'one way',
        'A catalogue has an address to search (sru) or to harvest (oai), and one of the two.',
        x => Boolean(x.sru) !== Boolean(x.oai),
      )
      .required(),
  ).required(),
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

/** Settings from the environment. @throws Error naming the variable that is missing or wrong */
export function readSettings(env: NodeJS.ProcessEnv = process.env): Settings {
  const need = (name: string): string => {
    const v = env[name]
    if (!v) throw new Error(`The setting ${name} is missing.`)
    return v
  }
  const file = env.VINE_OUTSIDE ?? 'settings/demo.json'
  const { connectors = [], ...given } = JSON.parse(readFileSync(file, 'utf8')) as { connectors?: unknown[] }
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
