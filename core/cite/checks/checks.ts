import { lasting, type GateHosts } from '../../access/links'
import { leadOf } from '../../appraise/leads'
import { saidOfItself, type Verdict } from '../../appraise/taken-back'
import { plainTitle } from '../../bib/clean'
import { yearOf } from '../../bib/dates'
import { foldTitle } from '../../bib/fold'
import { normaliseDoi } from '../../bib/identifiers'
import { familyName } from '../../bib/names'
import { readPages } from '../../bib/pages'
import type { Manner } from '../manner'
import { Findings, isManuscript, type Checked, type Finding } from './finding'
import { checkNames } from './of-names'
import { checkPlace } from './of-place'
import { withRegistration, writtenOut } from './of-registration'
import { checkTitle } from './of-title'

/** What was found of an entry, and what of it was seen to agree. */
export interface CheckedEntry {
  entry: number
  findings: Finding[]
  /** Parts of the citation that its copy has as well, as they are called. */
  agrees: string[]
  /** The copy it was held against, and how many records. */
  copy: number | null
  records: number
}

/**
 * Checks entries as they will print, each against its copy, the records of its work and what its style asks for, and all
 * against each other. Nothing is found without something that speaks for it.
 * @param style how the list is set
 * @param gates whose addresses are none to be cited
 */
export function checkEntries(
  entries: readonly Checked[],
  style: Manner,
  gates: readonly GateHosts[] = [],
): CheckedEntry[] {
  const twice = namesakes(entries)
  return entries.map(given => {
    const findings = new Findings()
    const of = withRegistration(given, findings)
    itself(of, findings)
    const double = twice.get(of.entry)
    if (double)
      findings.add('twice', {
        what: 'It stands in the list twice',
        why: `Another entry has ${double.why}: “${plainTitle(double.other.item.title)}”. One of them is to be taken out, or they are one work: see its work sheet.`,
        ours: String(double.other.work),
      })
    checkTitle(of, style, findings)
    checkNames(of, findings)
    checkPlace(of, style, findings)
    address(of, findings, gates)
    return {
      entry: of.entry,
      findings: findings.all.map(f => writtenOut(f, of)),
      agrees: agreeing(of),
      copy: of.copy?.id ?? null,
      records: of.records.length,
    }
  })
}

const TAKEN_BACK: Record<Verdict, string> = {
  retracted: 'It was retracted',
  withdrawn: 'It was withdrawn',
  'in doubt': 'Its editors have voiced concern about it',
  corrected: 'It was corrected',
}

/** What an entry is, and whether it is the one to cite. */
function itself(of: Checked, findings: Findings): void {
  const { item, kind, copy, became, since, leansOn } = of
  const printed = saidOfItself(copy?.front.title ?? '')
  if (printed)
    findings.add('withdrawn', {
      what: TAKEN_BACK[printed.says],
      why: 'Its own first page says so.',
      ours: copy!.front.title!,
      seen: { copy: copy!.id, page: 1 },
    })
  for (const { says, source, by, notice } of since)
    if (says === 'corrected' && !by && notice)
      findings.add('corrected', {
        what: 'There is a correction of it',
        why: `${source} names it: DOI ${notice}. Read it before you rely on a figure of the work.`,
        ours: notice,
      })
    else if (says === 'corrected' && by)
      findings.add('corrected', {
        what: by.work === null ? 'There is a correction of it' : 'A correction of it is in your pool',
        why: `“${by.title}”. Read it before you rely on a figure of the work.`,
        ours: by.work === null ? by.title : String(by.work),
      })
    else
      findings.add('withdrawn', {
        what: TAKEN_BACK[says],
        why: by
          ? `“${by.title}” says so, in ${source}.`
          : notice
            ? `${source} says so, by the notice with the DOI ${notice}.`
            : `${source} calls it so in its title.`,
        ours: by?.title ?? notice ?? plainTitle(item.title),
      })
  for (const { says, source, title } of leansOn)
    findings.add('leans', {
      what: `It cites a work that was ${says === 'in doubt' ? 'called in doubt' : says}`,
      why: `“${title}”, by ${source}. What rests on it may not hold: say so, or leave it out.`,
      ours: title,
    })
  for (const { work, title } of became)
    findings.add('became', {
      what: 'It became an article',
      why: `“${title}” is in your pool: the article is the one to cite, where you used no more than it has.`,
      ours: String(work),
    })
  const lead = kind === 'review of a book' ? leadOf(item, kind) : undefined
  if (lead)
    findings.add('review', {
      what: 'It is a review of a book',
      why: `If you mean the book, cite “${lead.title}” itself.`,
      ours: lead.title,
    })
}

/** Addresses that only the reader's library opens, or that end with a visit. */
function address({ item }: Checked, findings: Findings, gates: readonly GateHosts[]): void {
  if (!item.URL) return
  const lasts = lasting(item.URL, gates)
  if (lasts === item.URL || lasts === new URL(item.URL).href) return
  findings.add('address', {
    field: 'URL',
    what: 'The address leads through your own visit',
    why: 'It carries a session, a gate or a trace of where you came from, and opens for nobody else.',
    ours: item.URL,
    theirs: lasts,
    mend: { value: { text: lasts }, called: 'The lasting address' },
  })
}

/** Entries that are the same work by their DOI, or by title, year and first author. */
function namesakes(entries: readonly Checked[]): Map<number, { other: Checked; why: string }> {
  const out = new Map<number, { other: Checked; why: string }>()
  const seen = new Map<string, Checked>()
  for (const e of entries) {
    const { DOI, title, author } = e.item
    const doi = normaliseDoi(DOI)
    const words = foldTitle(title ?? '')
    const keys = [
      ...(doi ? [['the same DOI', `doi ${doi}`] as const] : []),
      ...(words.length > 12
        ? [['the same title, year and author', `${words} ${yearOf(e.item)} ${familyName(author?.[0] ?? {})}`] as const]
        : []),
    ]
    for (const [why, key] of keys) {
      const other = seen.get(key)
      if (!other) seen.set(key, e)
      else if (!out.has(e.entry)) {
        out.set(e.entry, { other, why })
        if (!out.has(other.entry)) out.set(other.entry, { other: e, why })
      }
    }
  }
  return out
}

/** What of an entry its copy was seen to have as well. */
function agreeing({ item, copy }: Checked): string[] {
  if (!copy) return []
  const { front } = copy
  const out: string[] = []
  if (front.title && foldTitle(front.title) === foldTitle(item.title ?? '')) out.push('title')
  const names = (list: readonly { family?: string }[]) => list.map(n => foldTitle(familyName(n))).join('|')
  if (item.author?.length && front.authors && names(front.authors.map(a => a.name)) === names(item.author))
    out.push('authors')
  if (isManuscript(copy.version)) return out
  const source = front.source ?? {}
  const year = yearOf(item)
  if (year !== undefined && source.issued && yearOf({ id: '', type: '', ...source }) === year) out.push('year')
  if (source.volume !== undefined && String(source.volume) === String(item.volume)) out.push('volume')
  if (source.issue !== undefined && String(source.issue) === String(item.issue)) out.push('issue')
  const range = readPages(item.page)
  if (
    range &&
    range.last >= range.first &&
    copy.arePrinted &&
    copy.labels.includes(String(range.first)) &&
    copy.labels.includes(String(range.last))
  )
    out.push('pages')
  if (front.doi && normaliseDoi(item.DOI) === normaliseDoi(front.doi)) out.push('DOI')
  return out
}
