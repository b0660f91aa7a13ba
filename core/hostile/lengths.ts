import { readCalendarDays } from '../formats/hours'
import { readAssignment } from '../write/assignment'
import { openUrl, readOpenUrl } from '../formats/openurl'
import { libraryShape } from '../schema/library'
import { authorMails } from '../access/author-mail'
import { compareCalls } from '../access/call-number'
import { lasting } from '../access/links'
import { plainWords, readPlace, says } from '../access/page-words'
import { chaptersOf, leadsOf, sought } from '../access/web-links'
import { readWebPage } from '../access/web-page'
import { appraise } from '../appraise/kind'
import { leadOf } from '../appraise/leads'
import { takenBackAmong } from '../appraise/taken-back'
import { signsOf } from '../appraise/signs'
import { fold, foldTitle } from '../bib/fold'
import { joinGrants, readGrants } from '../bib/grants'
import { normaliseAuthorId, normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { plainTitle } from '../bib/clean'
import type { Item } from '../bib/item'
import { withoutMarkup } from '../bib/markup'
import { nameKey, readHeading, readName } from '../bib/names'
import { pageCount, readPages } from '../bib/pages'
import { readDate } from '../bib/dates'
import { readPart, readSource } from '../bib/part'
import { languageCode } from '../bib/languages'
import { toldLanguage } from '../bib/told-language'
import { readRichText, toMarkdown } from '../cite/rich-text'
import { readBibtex, writeBibtex } from '../formats/bibtex'
import { readCslJson } from '../formats/csl-json'
import { readDublinCore } from '../formats/dublin-core'
import { checkStyle, findStyles, named } from '../cite/style-info'
import { readEmbargo, readKbart } from '../formats/kbart'
import { readMarcXml } from '../formats/marcxml'
import { readMods } from '../formats/mods'
import { readBibliography } from '../formats/read-file'
import { readRis, writeRis } from '../formats/ris'
import { bare, editionOf, pagesOfExtent } from '../formats/terms'
import { writeMods } from '../formats/write-mods'
import { readIllMessage } from '../formats/ill'
import { readOaiPage } from '../formats/oai'
import { readExplain, readSruAnswer } from '../formats/sru'
import { readField } from '../match/best-fields'
import { compare } from '../match/compare'
import { prepare } from '../match/prepare'
import { fileNature } from '../match/file-nature'
import { readPasted } from '../match/pasted'
import { Finder } from '../match/finder'
import { compareEntry, readEntry } from '../match/settle'
import { proveCopy } from '../match/proof'
import { Anchors } from '../pdftext/anchor'
import { isNonsense } from '../pdftext/nonsense'
import { readFileMarks } from '../pdftext/file-marks'
import { listOfText } from '../pdftext/plain-list'
import { wordsOnPage } from '../pdftext/words-on-page'
import { TextSearch } from '../query/texts'
import type { DrawnPage } from '../pdftext/page'
import { readText } from '../pdftext/read-text'
import { parseCql } from '../query/parse-cql'
import { matchSpans } from '../query/spans'
import { readShelfHoldings } from '../formats/shelf'
import { isSought, runHolds, soughtOnShelf } from '../access/shelf'
import { wordsOf } from '../query/sheet'
import { nearestConcepts, termOfLabel, wayFrom, waysTo } from '../query/vocabulary'
import { tokenise } from '../query/tokens'
import { FIELDS } from '../match/best-fields'
import { countWords } from '../write/words'
import { citedIn } from '../pdftext/cited'
import { checkEntries } from '../cite/checks/checks'
import { Wording } from '../write/closeness'
import { partsIn } from '../write/annotation-parts'
import { figureFindings, figuresOfPage } from '../write/figures'
import { quotationsIn, wordingOf } from '../write/quotations'
import { asCited, lettersOf, LINES, LOOKS, printedLines, type Mark, type Written } from '../write/written'
import { readAnnotations } from '../write/annotations-in'
import { pagesNamed } from '../write/sheet-of-reading'

/** Letters of which patterns make much: each is repeated as often as a length asks for. */
export const FILLERS = [
  ' ', '\n', '\t', '\r\n', '(', ')', '[', ']', '{', '}', '<', '>', '</', '<a', '<!--', '&', '&amp;', '&#', '"', '“', "'", '’',
  '-', '–', '.', ',', ';', ':', '/', '\\', '\\"', '%', '%2f', '#', '@', '@a{', '*', '_', '`', '~', '$', '=', '|', '0', '1,',
  '10.5555/', 'a', 'A', 'a ', 'a.', 'A. ', 'a,', 'and ', ' and', 'or ', 'not ', 'é', 'ﬁ', '漢', '\u0301', 'a\u0301', '🌒',
  'TY  - ', 'AU  - a\n', 'et al. ', 'vol. 1 ', 'pp. 1-', 'Review of ', 'http://', '<i>', '</i>', '<i', 'M', 'x=', 'P1', '-1',
] // prettier-ignore

const YEAR = { from: '2026-01-01', to: '2026-12-31' }
const calendarOf = (...lines: readonly string[]): string =>
  ['BEGIN:VCALENDAR', 'BEGIN:VEVENT', ...lines, 'END:VEVENT', 'END:VCALENDAR'].join('\r\n')

/** A text of which every other letter is marked in every way. */
const marked = (text: string): Written => ({
  text,
  marks: Array.from({ length: text.length >> 1 }, (_, i) => [i * 2, i * 2 + 1] as const).flatMap(
    ([from, to]): Mark[] => [
      ...[...LOOKS, ...LINES].map(is => ({ from, to, is })),
      { from, to: text.length, is: 'raised' },
      { from, to, is: 'cites', cites: { work: from, page: '', named: false } },
    ],
  ),
})

const item = (more: Partial<Item>): Item => ({ id: 'x', type: 'article-journal', ...more })

/** Everything that reads what comes from outside, given a text. Errors are answers. */
export const READERS: Record<string, (text: string) => unknown> = {
  'lettersOf, asCited, printedLines': t => {
    const written = marked(t)
    return [
      asCited(written, new Map([...lettersOf(written)].map(([k, s]) => [k, { ...s, text: '[1]' }]))),
      printedLines(written),
    ]
  },
  readAssignment: t => readAssignment(t, '2026-10-05'),
  authorMails: t => authorMails(`${t} a@b.example`, [{ family: t }]),
  fold,
  foldTitle,
  normaliseDoi,
  'normaliseDoi of an address': t => normaliseDoi(`https://doi.example/10.5555/${t}`),
  normaliseIssn,
  normaliseIsbn,
  normaliseAuthorId,
  readGrants,
  'isSameGrant, joinGrants': t => joinGrants([{ number: t, funder: t }, { number: t, funder: `${t} a` }, { said: t }]),
  readName,
  nameKey: t => nameKey({ family: t, given: t }),
  readPages,
  pageCount,
  readDate,
  readPart,
  readSource,
  readHeading,
  languageCode,
  toldLanguage,
  editionOf,
  pagesOfExtent,
  bare,
  withoutMarkup: t => withoutMarkup(t, true),
  plainTitle: t => plainTitle(t),
  readRichText,
  toMarkdown: t => toMarkdown([{ text: t }, { text: t, italic: true }]),
  pagesNamed,
  citedIn: t =>
    citedIn(
      [t, `${t} [1] (${t}, 1999)`],
      [{ n: 1, label: '1', text: t, item: item({ author: [{ family: t }] }), boxes: [] }],
    ),
  countWords,
  readAnnotations: t =>
    readAnnotations(
      JSON.stringify({
        type: 'Annotation',
        target: { source: t, selector: { type: 'TextQuoteSelector', exact: t } },
        body: { value: t, format: 'text/html' },
      }),
    ),
  wordsOnPage: t => wordsOnPage(t, drawn([t, `${t} a`]), 1),
  readFileMarks: t =>
    readFileMarks(
      [t, `${t}a`].map((words, i) => ({
        ...{ key: String(i), subtype: 'Highlight', page: 1, words, note: t, by: t, at: null, colour: null, boxes: [] },
        ...{ of: i ? '0' : null, isState: false },
      })),
    ),
  tokenise,
  wordsOf,
  'a word in a vocabulary': t =>
    nearestConcepts(wayFrom(t.slice(0, 200)) ?? '', [{ labels: [{ text: t, as: 'preferred' }] }], 1),
  'a label of a vocabulary': t => [waysTo(t), termOfLabel(t, 'main')],
  readBibtex,
  'readBibtex in a value': t => readBibtex(`@article{a, title={${t}}, author="${t}", year=2001}`),
  readRis,
  'readRis in a value': t => readRis(`TY  - JOUR\nTI  - ${t}\nAU  - ${t}\nSP  - ${t}\nER  - \n`),
  readCslJson,
  'readCslJson in a value': t =>
    readCslJson(
      JSON.stringify([item({ title: t, page: t, DOI: t, language: t, author: [{ family: t }], issued: { raw: t } })]),
    ),
  readBibliography,
  readKbart,
  'readKbart in a row': t =>
    readKbart(`publication_title\tprint_identifier\tembargo_info\tcoverage_depth\n${t}\t${t}\t${t}\tfulltext\n`),
  readEmbargo,
  readSruAnswer,
  readExplain,
  readOaiPage,
  'readMods in a value': t =>
    readMods(
      xml(
        'mods',
        `<titleInfo><title>${text(t)}</title></titleInfo><abstract>${text(t)}</abstract><name><namePart>${text(t)}</namePart></name><part><extent unit="page"><list>${text(t)}</list></extent></part><originInfo><dateIssued>${text(t)}</dateIssued></originInfo>`,
      ),
    ),
  'readDublinCore in a value': t =>
    readDublinCore(
      xml(
        'dc',
        ['title', 'creator', 'date', 'identifier', 'source', 'format', 'type', 'description', 'language']
          .map(f => `<${f}>${text(t)}</${f}>`)
          .join(''),
      ),
    ),
  'readMarcXml in a value': t =>
    readMarcXml(
      xml(
        'record',
        `<leader>00000nam a2200000 a 4500</leader>${['020a', '100a', '245a', '245b', '245c', '260c', '264b', '300a', '490a', '500a', '520a', '650a', '773g', '773t', '856u'].map(f => `<datafield tag="${f.slice(0, 3)}"><subfield code="${f[3]}">${text(t)}</subfield></datafield>`).join('')}`,
      ),
    ),
  'readShelfHoldings in its words': t =>
    readShelfHoldings(
      xml(
        'record',
        `<leader>00000nam a2200000 i 4500</leader><datafield tag="852"><subfield code="b">${text(t)}</subfield><subfield code="z">${text(t)}</subfield></datafield><datafield tag="876"><subfield code="j">on loan ${text(t)}</subfield></datafield>`,
      ),
    ),
  'a run of a journal': t => runHolds(`1989-${t}`, 1990, `lacks ${t}`),
  'a record and a shelf': t =>
    isSought(soughtOnShelf(item({ type: 'book', title: t, author: [{ family: t }] }))!, {
      item: item({ type: 'book', title: `${t} a`, author: [{ family: t }] }),
      facts: {},
    }),
  'appraise: title': t =>
    appraise(item({ title: t, 'container-title': t, abstract: t, genre: t }), { genre: t, keywords: [t] }),
  leadOf: t => leadOf(item({ title: t, abstract: t, note: t }), 'review of a book or work'),
  'what a title says': t => takenBackAmong([[t], [`RETRACTED: ${t}`], [`Retraction of ${t}`], [`${t} (${t}`]]),
  signsOf: t => signsOf([{ lines: [t, t, t] }]),
  readPasted,
  listOfText,
  'listOfText of lines': t => listOfText(t.replace(/(.{20})/gs, '$1\n')),
  'an entry beside a work': t => compareEntry(readEntry(t), item({ title: t, 'container-title': t, page: t })),
  'an entry and a finder': t => new Finder([item({ title: t })]).find(readEntry(t)),
  'prepare and compare': t => {
    const a = prepare({
      id: 1,
      item: item({ title: t, 'container-title': t, page: t, author: [{ family: t, given: t }] }),
      facts: {},
    })
    const b = prepare({
      id: 2,
      item: item({ title: `x ${t}`, 'container-title': t, page: t, author: [{ family: t }] }),
      facts: {},
    })
    return compare(a, b)
  },
  'compare: titles with a slip at each end': t => {
    const titled = (id: number, title: string) => prepare({ id, item: item({ title }), facts: {} })
    return compare(titled(1, `moth ${t} lamp`), titled(2, `noth ${t} lamq`))
  },
  fileNature: t => fileNature(t.length, t, t),
  'readText in its lines': t => readText([drawn([t, 'References', `1 ${t}`])], null, { page: t }),
  'readText in many lines': t => {
    const lines = t.match(/[\s\S]{1,80}/g) ?? []
    return readText([drawn([...lines, 'References', ...lines])], [t])
  },
  proveCopy: t => proveCopy(item({ title: t, DOI: t }), [{ page: 1, lines: [t, t] }], [], []),
  'proveCopy in its words': t => {
    const lines = t.match(/[\s\S]{1,80}/g) ?? []
    return proveCopy(item({ title: t, 'container-title': t, author: [{ family: t }] }), [
      { page: 1, lines: ['Reply to', ...lines], heading: t, apart: lines, notes: lines },
    ])
  },
  isNonsense: t => isNonsense([t, t]),
  'a passage in another version': t => {
    const words = t.slice(0, 1000)
    return new Anchors([t, t]).again(new Anchors([t]).select(words, 1))
  },
  'words in texts': t => {
    const texts = new TextSearch()
    texts.add(1, [t, t])
    return texts.find({ kind: 'clause', relation: '=', modifiers: [], term: 'moth*' })
  },
  'a page of the web': t => pageRead(t),
  'a page of the web, in its links': t =>
    pageRead(
      `<title>${text(t)}</title><h1>${text(t)}</h1><p>${text(t)} <a href="/a">${text(t)}</a><a href="${text(t)}">pdf</a>`,
    ),
  'a page of the web, in its forms': t => pageRead(`<form><p>${text(t)}<button>${text(t)}</button></form>`),
  'what a page says': t => [readPlace(plainWords(t)), ...Object.values(says).map(f => f(plainWords(t)))],
  lasting: t => lasting(`http://a.example/${t}?${t}`, [{ suffix: t }]),
  'the file of a library': t =>
    libraryShape.isValidSync({
      ...{ name: t, place: t, resolver: t, campus: [t], holdings: [t] },
      gate: { template: `http://gate.example/{?url}${t}`, signIn: t, suffix: t },
      office: { address: t, symbol: t, ours: `A:${t}`, closed: [t] },
    }),
  readIllMessage,
  'a note of a loan office': t =>
    readIllMessage(
      `<ISO18626Message><supplyingAgencyMessage><header><timestamp>${t}</timestamp><requestingAgencyRequestId>1</requestingAgencyRequestId></header><messageInfo><note><![CDATA[${t}]]></note></messageInfo></supplyingAgencyMessage></ISO18626Message>`,
    ),
  checkStyle,
  readCalendarDays: t => readCalendarDays(t, YEAR),
  'readCalendarDays in a value': t => readCalendarDays(calendarOf(`SUMMARY:${t}`, `DTSTART:${t}`, `RRULE:${t}`), YEAR),
  'readCalendarDays in its lines': t => readCalendarDays(calendarOf(...t.match(/.{1,60}/gsu)!), YEAR),
  'the title of a style': t =>
    checkStyle(
      `<style xmlns="http://purl.org/net/xbiblio/csl" version="1.0"><info><title><![CDATA[${t}]]></title></info><citation><layout/></citation></style>`,
    ),
  'a style that is looked for': t => findStyles([named('x', { name: t, fields: [t] })], t),
  openUrl: t => openUrl('http://resolver.example/', { type: 'article-journal', title: t, page: t, DOI: t, ISSN: t }),
  readOpenUrl: t =>
    readOpenUrl(`http://resolver.example/?rft.atitle=${encodeURIComponent(t)}&rft.au=${encodeURIComponent(t)}&${t}`),
  compareCalls: t => compareCalls(t, `${t}1`),
  parseCql,
  matchSpans: t => matchSpans({ kind: 'clause', relation: 'any', modifiers: [], term: 'moth* lamp' }, t),
  'checks of an entry': t => checked(t),
  'closeness of wording': t =>
    wordingOf(t, new Wording([{ key: 'a', work: 1, what: 'copy', pages: [t] }]), { work: 1, key: 'b', hasText: true }),
  'parts of an annotation': t =>
    partsIn(`${'The author of it is in the book. '.repeat(t.length >> 4)}${t}`, [{ from: 2, to: 4 }]),
  'figures of an annotation': t =>
    figureFindings(`${t} 38% ${t}.`, [{ pages: [figuresOfPage(`38% ${t}`)], labels: ['1'] }], {
      ...{ hasText: true, apart: quotationsIn(t), others: [] },
    }),
  'quotations of a text': t => quotationsIn(`“${t}” (${t}`),
  writeBibtex: t => writeBibtex(item({ title: t, abstract: t, author: [{ family: t }], URL: t }), 'k'),
  writeMods: t =>
    writeMods([item({ title: t, abstract: t, author: [{ family: t }], page: t, keyword: t, URL: t })], ['k']),
  writeRis: t => writeRis(item({ title: t, abstract: t, author: [{ family: t }], page: t, keyword: t, URL: t }), 'k'),
  ...Object.fromEntries(FIELDS.map(f => [`readField ${f}`, (t: string) => readField(f, t)])),
}

const checked = (t: string): unknown => {
  const own = item({ title: t, author: [{ family: t, given: t }, { literal: t }], page: t, DOI: t, URL: t, volume: t })
  const records = [{ id: 1, source: 'a', item: { ...own, title: `${t}a`, 'container-title': t }, facts: {} }]
  const front = { title: `${t}b`, doi: t, authors: [{ name: { family: `${t}a`, given: t }, affiliations: [] }] }
  const copy = { id: 1, version: 'x', labels: [t], arePrinted: true, isScan: false, front }
  const of = { entry: 1, work: 1, item: { ...own, 'container-title': `${t}.` }, facts: {}, kind: 'review of a book' }
  return checkEntries(
    [
      {
        ...of,
        chosen: [],
        records,
        copy,
        words: t,
        became: [],
        since: [{ says: 'retracted', source: t, by: null, notice: t }],
        leansOn: [],
      },
    ],
    {
      ...{ name: 'A', capitals: false, afterColon: true, prints: {} },
    },
  )
}

const pageRead = (html: string): unknown => {
  const page = readWebPage(html, 'http://a.example/b', html.slice(0, 4000))
  return [
    leadsOf(page, sought(item({ title: html.slice(0, 200), volume: '3', issue: '2', page: '1-9' })), {}),
    chaptersOf(page),
  ]
}

const drawn = (lines: readonly string[]): DrawnPage => ({
  width: 600,
  height: 800,
  runs: lines.map((line, i) => ({
    text: line,
    x: 60,
    y: 60 + i * 12,
    width: 400,
    size: line === 'References' ? 14 : 10,
  })),
})
const xml = (root: string, inside: string): string => `<?xml version="1.0"?><${root}>${inside}</${root}>`
const text = (t: string): string => t.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;')

/** Letters of the longest text that a reader is given, and of the first, which is lengthened until it takes long enough. */
const [LONGEST, FIRST] = [8000, 125]
/** How many short texts are read beside one that is as long as all of them. */
const PIECES = 16
/** Letters that make a piece long enough to be what its reader is for, in lines and all. */
const WHOLE = 500

/** As long as its pieces, or sixteen times as long where it is quadratic: what is between them is the noise. */
const LINEAR = 4
/** The power of its length with which a text may take longer and its reader is cleared: 1 is linear, 2 quadratic. */
const CLEAR = 1.3
/** What takes fewer milliseconds is not told from noise. */
const TOLD_MS = 4
/** Who is suspected is read again for so many milliseconds and times, as a busy machine may take its time from any of them. */
const [SURE_MS, SURE_TIMES] = [3000, 6]

/**
 * Whether a reader takes longer for one long text than for as many letters in sixteen short ones: about as long where it is
 * linear, up to sixteen times as long where it is quadratic. Both are the same work for a linear reader, so whatever else
 * the machine does meets both alike, and all the more the longer it goes on. What takes a few milliseconds at the longest
 * is not told from noise: false.
 * @param end what stands behind the filler
 * @param now milliseconds that have gone by
 */
export function growsTooFast(
  read: (t: string) => unknown,
  filler: string,
  end = '',
  now: () => number = () => performance.now(),
): boolean {
  const clocked = (length: number, times = 1): number => {
    const t = filler.repeat(Math.ceil(length / filler.length)).slice(0, length) + end
    const began = now()
    for (let i = 0; i < times; i++)
      try {
        read(t)
      } catch {
        // said, as it should be
      }
    return now() - began
  }
  clocked(FIRST)
  // what every reader does once, whatever it is given, would hide how it grows
  const told = TOLD_MS + 2 * clocked(0)
  let length = FIRST
  let ms: number
  while ((ms = clocked(length)) < told) {
    if (length === LONGEST) return false
    length = Math.min(length * (ms < told / 4 ? 4 : 2), LONGEST)
  }
  // most are cleared at once: a text four times as long takes four times as long, sixteen times where it is quadratic
  const longer = Math.min(length * 4, LONGEST)
  if (longer > length && clocked(longer) < Math.min(ms, clocked(length)) * (longer / length) ** CLEAR) return false
  length = longer
  let [short, long, times] = [0, 0, 0]
  for (;;) {
    short += clocked(length / PIECES, PIECES)
    long += clocked(length)
    times++
    if (long < LINEAR * short) return false
    if (length < PIECES * WHOLE) [length, short, long, times] = [length * 2, 0, 0, 0]
    else if (times >= SURE_TIMES && long > SURE_MS) return true
  }
}
