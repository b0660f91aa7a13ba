import { randomUUID } from 'node:crypto'
import { openUrl } from '../../core/formats/openurl'
import { readWebPage, type Form } from '../../core/access/web-page'
import type { TriedPart } from '../../core/schema/api/libraries'
import { writeIllAction } from '../../core/formats/ill'
import { byTemplate, type LoanOffice } from '../../core/schema/library'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import { Problem } from '../base/problem'
import { explainOf } from '../catalogues/catalogue'
import { identify } from '../catalogues/repositories'
import { NotAllowed, OutsideError, type OutsideAnswer } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { gateCookie, type Gated } from './gate-service'
import { tryHours } from './hours'
import { leaveOf, type Library } from './libraries'
import { agencyOf, postMessage } from './office-messages'
import { tryPartners } from './partners'
import { shelvesOf, tryShelves } from './shelves'

/** What came of trying a part, in words. */
interface Told {
  holds: boolean
  said: string
}

const LARGEST_PAGE = 2_000_000
const PAGE = { accept: 'text/html, */*;q=0.5' }
const pageOf = ({ body, headers, url }: OutsideAnswer) =>
  readWebPage(decodeXml(body, String(headers['content-type'] ?? '')), url)

/** Asks a part of a library whether it does what its profile says, and keeps what came back. @throws Problem 422 where it has no such part */
export async function tryPart(c: Context, userId: number, library: Library, part: TriedPart): Promise<void> {
  const trying = {
    catalogues: () => tryCatalogues(c, library),
    shelf: () => {
      const shelves = shelvesOf(library)
      if (!shelves) throw without('shelf catalogue')
      return tryShelves(c, shelves)
    },
    gate: () => tryGate(c, userId, library),
    office: () => tryOffice(c, library),
    partners: () => {
      if (!library.partners.length) throw without('partner')
      return tryPartners(c, library)
    },
    hours: () => {
      if (!library.hours.length) throw without('calendar of its hours')
      return tryHours(c, library)
    },
    resolver: () => tryResolver(c, library),
  }
  const { holds, said } = await trying[part]().catch((e: unknown) => {
    if (!(e instanceof OutsideError)) throw e
    const own = e instanceof NotAllowed ? ' An administrator can allow it.' : ''
    return { holds: false, said: `${e.message}${own}` }
  })
  await c.db.libraryTrials.upsert({
    library: library.key,
    part,
    holds,
    said,
    deskDay: await deskDay(c.db),
    at: new Date(),
  })
}

const without = (what: string) => new Problem(422, 'no-part', `This library has no ${what}.`)

/** Each is asked what it can do; one that does not say so may be none. */
async function tryCatalogues(c: Context, library: Library): Promise<Told> {
  if (!library.catalogues.length) throw without('catalogue')
  const said = await Promise.all(
    library.catalogues.map(async x => {
      try {
        const asked = { ...x, ...leaveOf(library) }
        const assumed = x.oai
          ? void (await identify(c, { ...asked, oai: x.oai }, AbortSignal.timeout(LONGEST)))
          : (await explainOf(c, asked)).assumed
        return { holds: !assumed, said: assumed ? `${x.name}: ${assumed}` : `${x.name} answered.` }
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        return { holds: false, said: `${x.name}: ${e.message}` }
      }
    }),
  )
  return { holds: said.every(s => s.holds), said: said.map(s => s.said).join(' ') }
}
const LONGEST = 60_000

async function tryGate(c: Context, userId: number, library: Library): Promise<Told> {
  const { gate } = library
  if (!gate) throw without('gate')
  const leave = leaveOf(library)
  const cookie = await gateCookie(c, userId, library.key)
  const begun = await c.outside(byTemplate(gate.template, c.settings.outside.resolver), {
    ...{ hops: 0, maxBytes: LARGEST_PAGE, headers: PAGE, ...leave },
    ...(cookie ? { gate: { suffix: gate.suffix, cookie } } : {}),
  })
  if (begun.status >= 400 && begun.status !== 401 && begun.status !== 403)
    return { holds: false, said: `Its address answers with status ${begun.status}.` }
  if (gate.manner === 'window') return { holds: true, said: 'It answers. Signing in is up to you, in your own window.' }
  const page = await c.outside(gate.signIn, { maxBytes: LARGEST_PAGE, headers: PAGE, ...leave })
  if (page.status >= 400) return { holds: false, said: `Its sign-in page answers with status ${page.status}.` }
  const form = pageOf(page).forms.find(f => f.asksPassword)
  if (!form)
    return {
      holds: false,
      said: 'Its sign-in page asks for no password there. It may need programs to run: choose “in your own window”.',
    }
  const wrong = otherFields(form, library as Gated)
  if (wrong) return { holds: false, said: wrong }
  const location = String(begun.headers.location ?? '')
  const to = URL.canParse(location, begun.url) ? new URL(location, begun.url) : undefined
  if (cookie && to && !to.href.startsWith(gate.signIn))
    return { holds: true, said: `You are signed in, and it led on to ${to.hostname}.` }
  return { holds: true, said: 'It answers, and asks for card and password as it should.' }
}

/** What a form calls otherwise than the profile does, in a sentence. */
function otherFields(form: Form, { gate }: Gated): string | undefined {
  const { card = 'card', password = 'password' } = gate.fields ?? {}
  const missing = [card, password].filter(f => !form.asks.includes(f))
  if (!missing.length) return undefined
  const has = form.asks.filter(Boolean).map(f => `“${f}”`)
  return `Its form has no field ${missing.map(f => `“${f}”`).join(' and ')}. It has ${has.join(' and ') || 'none with a name'}.`
}

/** A work that no library has, so that nothing is ordered by trying. */
const NOBODY = { type: 'article-journal', title: 'Only a trial', 'container-title': 'No journal' } as const

async function tryResolver(c: Context, library: Library): Promise<Told> {
  if (!library.resolver) throw without('link resolver')
  const { status, title } = await askByOpenUrl(c, library, library.resolver)
  if (status >= 400) return { holds: false, said: `It answers with status ${status}.` }
  return { holds: true, said: `It takes an OpenURL, and answers ${title}.` }
}

/** Asks an address for what no library has. */
async function askByOpenUrl(c: Context, library: Library, address: string) {
  const answer = await c.outside(openUrl(address, NOBODY), {
    ...{ maxBytes: LARGEST_PAGE, headers: PAGE, ...leaveOf(library) },
  })
  const { title, forms, text } = pageOf(answer)
  return {
    status: answer.status,
    title: title ? `“${title}”` : 'with a page without a title',
    asksPassword: forms.some(f => f.asksPassword),
    isFilled: text.includes(NOBODY.title) || forms.some(f => f.filled.some(v => v.includes(NOBODY.title))),
  }
}

/** Nothing is asked for by trying: a form is opened and not sent, and messages ask after a request that never was. */
async function tryOffice(c: Context, library: Library): Promise<Told> {
  const { office } = library
  if (!office) throw without('loan office')
  if (office.manner === 'mail') return { holds: true, said: 'A mail goes out by your hand alone: nothing was tried.' }
  if (office.manner === 'messages') return tryMessages(c, library, office)
  const { status, title, asksPassword, isFilled } = await askByOpenUrl(c, library, office.address)
  if (status >= 400) return { holds: false, said: `Its form answers with status ${status}.` }
  if (isFilled) return { holds: true, said: `It answers ${title}, filled in with what was asked for.` }
  if (asksPassword)
    return { holds: true, said: `It answers ${title}: one signs in first. Whether it is filled in then is not known.` }
  return {
    holds: false,
    said: `It answers ${title}, but takes nothing over from an OpenURL. Details can be copied into it by hand.`,
  }
}

async function tryMessages(c: Context, library: Library, office: LoanOffice): Promise<Told> {
  const head = {
    ...{ supplier: agencyOf(office.symbol), requester: agencyOf(office.ours) },
    ...{ request: randomUUID(), at: new Date().toISOString() },
  }
  const answer = await postMessage(c, library, office, writeIllAction(head, 'StatusRequest'))
  const { holds, error = '' } = answer
  if (holds) return { holds: true, said: 'It takes messages.' }
  if (/AgencyId/i.test(error) && !/RequestId/i.test(error))
    return { holds: false, said: `It does not know ${office.symbol} or ${office.ours}: ${error}.` }
  return { holds: true, said: 'It takes messages, and knows nothing of a request that never was, as it should.' }
}
