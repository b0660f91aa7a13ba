import { normaliseIsbn } from '../core/bib/identifiers'
import { seeded } from '../core/world/random'
import type { Licence, Venue, WorldWork } from '../core/world/types'
import { IMPRINTS, packageOf } from './venues'

const COLUMNS =
  'publication_title print_identifier online_identifier date_first_issue_online num_first_vol_online num_first_issue_online date_last_issue_online num_last_vol_online num_last_issue_online title_url first_author title_id embargo_info coverage_depth notes publisher_name publication_type date_monograph_published_print date_monograph_published_online monograph_volume monograph_edition first_editor parent_publication_title_id preceding_publication_title_id access_type'.split(
    ' ',
  )

export const PACKAGES = [
  ...new Set(IMPRINTS.map(packageOf)),
  'Broadleaf Full Text',
  'Broadleaf Full Text Plus',
  'Regional Consortium List',
  'Old Press Vault I',
  'Old Press Vault II',
  'Open Titles Register',
  'Lanternhill E-books',
  'Study E-books',
  'Trial Titles, Autumn 2026',
]

const row = (cells: Record<string, string>): string => COLUMNS.map(c => cells[c] ?? '').join('\t')

/**
 * The home library's holdings as KBART files (NISO RP-9), one a package, with the faults that such files have: wrong
 * identifiers, dates in words, missing walls, double lines, coverage that claims too much. By file name.
 */
export function writeKbart(seed: number, venues: readonly Venue[], books: readonly WorldWork[]): Map<string, string> {
  const r = seeded(seed ^ 0x5eed)
  const lines = new Map<string, string[]>(PACKAGES.map(p => [p, [COLUMNS.join('\t')]]))
  const put = (p: string, cells: Record<string, string>) => {
    lines.get(p)!.push(row(cells))
  }
  for (const v of venues) {
    for (const l of v.licences) {
      const cells = serial(v, l)
      const fault = r()
      if (fault < 0.015) cells.print_identifier = cells.print_identifier!.replace(/.$/, c => (c === '7' ? '8' : '7'))
      else if (fault < 0.03) cells.date_first_issue_online = r.pick(['spring 1998', '01/02/1994', 'n.d.'])
      else if (fault < 0.045) cells.embargo_info = r.pick(['1 year', 'P1W', 'P12'])
      else if (fault < 0.06) delete cells.embargo_info
      else if (fault < 0.075) cells.date_last_issue_online = ''
      else if (fault < 0.09) put(l.package, cells)
      else if (fault < 0.11 && v.former) cells.publication_title = v.former.title
      else if (fault < 0.12) delete cells.online_identifier
      put(l.package, cells)
    }
    if (v.openFrom)
      put('Open Titles Register', {
        ...serial(v, { package: '', from: `${v.openFrom}-01-01` }),
        access_type: 'F',
      })
  }
  for (const b of books) {
    if (!b.shelf?.ebook) continue
    put(b.item.publisher === 'Lanternhill Books' ? 'Lanternhill E-books' : 'Study E-books', {
      publication_title: b.item.title!,
      print_identifier: normaliseIsbn(b.item.ISBN) ?? '',
      title_url: `http://${b.host}/book/${b.id}`,
      first_author: b.item.author?.[0]?.family ?? '',
      title_id: b.id,
      coverage_depth: 'fulltext',
      publisher_name: b.item.publisher ?? '',
      publication_type: 'monograph',
      date_monograph_published_print: String(b.year),
      monograph_edition: String(b.item.edition ?? ''),
      access_type: 'P',
    })
  }
  return new Map(
    [...lines].map(([p, list]) => [`${p.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.tsv`, `${list.join('\n')}\n`]),
  )
}

function serial(v: Venue, l: Licence): Record<string, string> {
  const year = Number(l.from.slice(0, 4))
  return {
    publication_title: v.title,
    print_identifier: v.issnPrint,
    online_identifier: v.issnOnline,
    date_first_issue_online: l.from,
    num_first_vol_online: String(year - v.since + 1),
    num_first_issue_online: '1',
    date_last_issue_online: l.to ?? '',
    ...(l.to ? { num_last_vol_online: String(Number(l.to.slice(0, 4)) - v.since + 1) } : {}),
    title_url: `http://${v.host}/journal/${v.code}`,
    title_id: v.code,
    embargo_info: l.wall ?? '',
    coverage_depth: 'fulltext',
    publisher_name: v.imprint,
    publication_type: 'serial',
    access_type: 'P',
  }
}
