import { describe, expect, test } from '@jest/globals'
import { readMarc, type MarcRecord } from './marc'

/** A record as cataloguers write it down: the leader's places 5 to 9, then a field a line, "#" for a blank. */
function record(leader: string, lines: string): MarcRecord {
  const control: [string, string][] = []
  const fields: MarcRecord['fields'] = []
  for (const line of lines.trim().split(/\n\s*/)) {
    const tag = line.slice(0, 3)
    if (tag < '010') control.push([tag, line.slice(4).replaceAll('#', ' ')])
    else
      fields.push({
        tag,
        indicators: line.slice(4, 6).replaceAll('#', ' '),
        subfields: line
          .slice(7)
          .split(/\s*\$(?=[a-z\d] )/)
          .filter(Boolean)
          .map(s => [s[0]!, s.slice(2).trim()]),
      })
  }
  return { leader: `00000${leader} 2200000 i 4500`, control, fields }
}
const read = (leader: string, lines: string) => readMarc(record(leader, lines))
const year = (...parts: number[]) => ({ 'date-parts': [parts] })

describe('books', () => {
  test('that nobody described tell their chapters, as they are listed in either way', () => {
    const of = (...lines: string[]) => read('nam a', ['001 c', '245 10 $a On dusk', ...lines].join('\n')).item.abstract
    expect(of('505 0# $a Contents: Lamps / Ivo Sand -- Moths -- The harbour.')).toBe(
      'Contents: Lamps / Ivo Sand; Moths; The harbour',
    )
    expect(of('505 00 $t Lamps / $r Ivo Sand -- $t Moths', '505 80 $t Owls')).toBe(
      'Contents: Lamps / Ivo Sand; Moths; Owls',
    )
    expect(of('505 0# $a Lamps', '520 ## $a On towns.')).toBe('On towns.')
    expect(of()).toBeUndefined()
  })
  test('with parts, a parallel title, an edition, a series and the language of its code', () => {
    const { item, facts } = read(
      'nam a',
      `001 hm-1
      008 140312s2014####xx#a#####b####001#0#ger#d
      020 ## $a 978-990-00-1996-1 (pbk. ; vol. 2)
      100 1# $a Ørskov, Zoë, $d 1950- $e Verfasserin $4 aut
      240 10 $a Six dusks $l German
      245 10 $a Nächte in sechs Städten. $n Teil 2, $p Der Winter : $b eine Naturgeschichte = a natural history / $c Zoë Ørskov ; übersetzt von Ivo Sand.
      250 ## $a 3., überarbeitete Auflage.
      264 #1 $a Ostmere : $b Moorgrave Press, $c [2014]
      264 #4 $c ©2013
      300 ## $a 1 online resource (xii, 274 Seiten) : $b ill.
      490 1# $a Studien zur Nacht ; $v Band 12
      520 2# $a On what a winter night is to six towns.
      650 #0 $a Night $z Ostmere $x History.
      653 ## $a dusk $a lamps
      700 1# $a Sand, Ivo, $e Übersetzer
      700 1# $a Lune, Mara, $e Gutachterin
      856 42 $3 Inhaltsverzeichnis $u http://shelf.example/toc.pdf
      856 40 $u http://shelf.example/hm-1`,
    )
    expect(item).toEqual({
      id: 'hm-1',
      type: 'book',
      title: 'Nächte in sechs Städten. Teil 2, Der Winter: eine Naturgeschichte',
      'original-title': 'Six dusks',
      author: [{ family: 'Ørskov', given: 'Zoë' }],
      translator: [{ family: 'Sand', given: 'Ivo' }],
      edition: '3., überarbeitete Auflage',
      publisher: 'Moorgrave Press',
      'publisher-place': 'Ostmere',
      issued: year(2014),
      ISBN: '9789900019961',
      language: 'de',
      abstract: 'On what a winter night is to six towns.',
      URL: 'http://shelf.example/hm-1',
      'collection-title': 'Studien zur Nacht',
      'collection-number': '12',
    })
    expect(facts).toMatchObject({
      pageCount: 274,
      subjects: ['Night — Ostmere — History'],
      keywords: ['dusk', 'lamps'],
    })
  })
  test('edited by those whom only the statement of responsibility calls so', () => {
    const { item } = read(
      'cam a',
      `008 990101s1999####xx############000#0#eng##
      245 00 $a Lamps / $c edited by Mara Lune and Ivo Sand.
      250 ## $a 2nd ed.
      260 ## $a Ostmere : $b Moorgrave, $c c1999.
      300 ## $a 212 p. ; $c 23 cm.
      700 1# $a Lune, Mara.
      700 1# $a Sand, Ivo, $d 1961-
      700 12 $a Okafor, Ada. $t On wicks.`,
    )
    expect(item).toMatchObject({
      type: 'book',
      edition: '2',
      editor: [
        { family: 'Lune', given: 'Mara' },
        { family: 'Sand', given: 'Ivo' },
      ],
      issued: year(1999),
      language: 'en',
    })
    expect(item.author).toBeUndefined()
  })
  test('a body with its part, a ruler, a son; the papers of a meeting', () => {
    expect(read('nam a', '110 2# $a Ostmere. $b Office of Lamps.\n245 10 $a Report').item.author).toEqual([
      { literal: 'Ostmere. Office of Lamps' },
    ])
    expect(read('nam a', '100 0# $a Odo $b II, $c King of Ostmere\n245 10 $a Laws').item.author).toEqual([
      { literal: 'Odo II' },
    ])
    expect(read('nam a', '100 1# $a Bee, Cleo, $c Jr.\n245 10 $a Laws').item.author).toEqual([
      { family: 'Bee', given: 'Cleo', suffix: 'Jr' },
    ])
    const { item } = read('nam a', '111 2# $a Meeting on Dusk $n (4th : $d 2011 : $c Ostmere)\n245 10 $a Proceedings')
    expect(item).toMatchObject({ type: 'book', 'event-title': 'Meeting on Dusk', 'event-place': 'Ostmere' })
  })
})

describe('parts of journals and books', () => {
  const article = (place: string) =>
    read('nab a', `100 1# $a Lune, Mara\n245 10 $a On dusk\n773 0# $t Night papers $x 9990-0114 ${place}`).item
  test.each([
    ['$g Vol. 12, no. 3 (Mar. 2019), p. 45-67'],
    ['$g Jahrgang 12, Heft 3 (März 2019), Seite 45-67 $q 12:3<45'],
    ['$g 12(2019,Mar.),3,S.45-67'],
    ['$g volume:12 $g number:3 $g year:2019 $g month:03 $g pages:45-67'],
    ['$g Bd. 12 (2019), 3, S. 45-67'],
    ['$g т. 12, № 3 (2019), с. 45-67'],
  ])('an article: %s', place => {
    const item = article(place)
    expect(item).toMatchObject({
      type: 'article-journal',
      'container-title': 'Night papers',
      ISSN: '9990-0114',
      volume: '12',
      issue: '3',
      page: '45-67',
    })
    expect(item.issued!['date-parts']![0]![0]).toBe(2019)
  })
  test('a chapter takes book, editor, place and press from its host', () => {
    const { item, facts } = read(
      'naa a',
      `100 1# $a Okafor, Ada
      245 10 $a On wicks
      773 0# $7 nnam $a Lune, Mara $t Lamps and their makers $d Ostmere : Moorgrave, 2011 $g S. 112-130 $z 978-990-00-1996-1`,
    )
    expect(item).toMatchObject({
      type: 'chapter',
      'container-title': 'Lamps and their makers',
      publisher: 'Moorgrave',
      'publisher-place': 'Ostmere',
      issued: year(2011),
      page: '112-130',
      ISBN: '9789900019961',
      'container-author': [{ family: 'Lune', given: 'Mara' }],
    })
    expect(facts.pageCount).toBe(19)
  })
})

describe('what it is, by whatever says it', () => {
  test.each([
    ['a thesis of one note', 'nam a', '245 10 $a X\n502 ## $a Thesis (Ph. D.)--Halverane University, 2019.', { type: 'thesis', genre: 'Ph. D.', publisher: 'Halverane University', issued: year(2019) }],
    ['a thesis in German', 'nam a', '245 10 $a X\n502 ## $a Ostmere, Univ., Diss., 2019', { type: 'thesis', genre: 'Diss.', issued: year(2019) }],
    ['a thesis in subfields', 'nam a', '245 10 $a X\n502 ## $b Dissertation $c Universität Ostmere $d 2019', { type: 'thesis', genre: 'Dissertation', publisher: 'Universität Ostmere' }],
    ['a plain book without a number', 'nam a', '245 10 $a X', { type: 'book' }],
    ['a film', 'ngm a', '245 10 $a X\n007 vd#cvaizq\n008 140312s2014####xx#072############vleng#d', { type: 'motion_picture', language: 'en' }],
    ['slides', 'ngm a', '245 10 $a X\n008 140312s2014####xx################s#eng#d', { type: 'graphic' }],
    ['a map', 'nem a', '245 10 $a X', { type: 'map' }],
    ['a score', 'ncm a', '245 10 $a X', { type: 'musical_score' }],
    ['a recording', 'njm a', '245 10 $a X', { type: 'song' }],
    ['data', 'nmm a', '245 10 $a X\n008 140312s2014####xx#########a######eng#d', { type: 'dataset' }],
    ['a book on a screen, entered as a file', 'nmm a', '245 10 $a X\n008 140312s2014####xx#########d######eng#d', { type: 'book' }],
    ['a report by its contents code', 'nam a', '245 10 $a X\n008 140312s2014####xx#######t##f000#0#eng#d', { type: 'report' }],
    ['a review in a journal', 'nab a', '245 10 $a X\n655 #7 $a Rezension $2 gnd-content\n773 0# $t Y $x 9990-0114', { type: 'review-book' }],
    ['a newspaper article', 'nab a', '245 10 $a X\n655 #7 $a Zeitungsartikel\n773 0# $t The Ostmere Echo $g 14 March 2019, p. 5', { type: 'article-newspaper', page: '5', issued: year(2019, 3, 14) }],
    ['a journal', 'nas a', '022 ## $a 9990-0114 $l 9990-0114\n245 00 $a Night papers', { type: 'periodical', ISSN: '9990-0114' }],
    ['a manuscript', 'ntm a', '245 10 $a X', { type: 'manuscript' }],
  ])('%s', (_name, leader, lines, expected) => {
    expect(read(leader, lines).item).toMatchObject(expected)
  }) // prettier-ignore
})
