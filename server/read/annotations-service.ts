import { setImmediate as nextTurn } from 'node:timers/promises'
import type { Transaction } from 'sequelize'
import { firstLetters } from '../../core/bib/clean'
import { fold } from '../../core/bib/fold'
import { lettersIn } from '../../core/bib/found'
import { normaliseDoi } from '../../core/bib/identifiers'
import { Anchors, boxesOf, selectorOf, type Selector } from '../../core/pdftext/anchor'
import { readAnnotations, type BroughtAnnotation } from '../../core/write/annotations-in'
import type { Context } from '../base/context'
import { decodeText } from '../base/decode'
import { Problem } from '../base/problem'
import { readable, type Asker } from '../copies/copy-rights'
import type { CopyRow } from '../copies/copies-model'
import { pagesOf } from '../copies/texts'
import { addPassages, labelOver, notedIn, ownIdOf, saysOf } from './passages-service'

type Copy = Pick<CopyRow, 'id' | 'workId' | 'pages' | 'labels' | 'outcome'> & { doi: string | undefined }
/** Letters that some words have at least, for one document alone to be theirs. */
const FEWEST = 24

/**
 * Places the annotations of a file in the copies that they are of: by our own address of a copy, by the DOI of its work, or
 * because their words stand in one work alone.
 * @throws Problem 422 where the file has no annotations
 */
export async function placeAnnotations(c: Context, asker: Asker, bytes: Buffer) {
  const { inquiryId } = asker
  const { annotations, unread, left } = readFile(bytes)
  const own = `${c.settings.address}/inquiries/${inquiryId}/read/`
  const [copies, strands] = await Promise.all([
    copiesOf(c, asker),
    c.db.strands.scope('standing').findAll({ where: { inquiryId }, attributes: ['id', 'name'], raw: true }),
  ])
  const texts = new Texts(c, copies)
  const strandOf = new Map(strands.map(s => [fold(s.name), s.id]))
  const elsewhere = new Map<string, number>()
  const placed: Placed[] = []
  for (const a of annotations) {
    const copy = await texts.copyOf(a, own)
    if (!copy) {
      elsewhere.set(a.source, (elsewhere.get(a.source) ?? 0) + 1)
      continue
    }
    placed.push({
      ...{ ...rowOf(a, copy, await texts.placeOf(copy, a), strandOf), inquiryId },
      ownId: ownIdOf(`annotation ${inquiryId} ${a.source} ${a.key}`),
      // of what was taken out of this inquiry and comes back
      passage: a.key.startsWith(own) ? a.key.split('#passage-')[1] : undefined,
    })
  }
  const inOrder = [...elsewhere].sort((a, b) => b[1] - a[1])
  return { placed, unread, left, elsewhere: inOrder.map(([source, n]) => ({ source, annotations: n })) }
}
type Placed = ReturnType<typeof rowOf> & { inquiryId: number; ownId: string; passage: string | undefined }

/** Notes annotations that were placed, each once. */
export async function noteAnnotations(
  c: Context,
  inquiryId: number,
  { placed, ...rest }: Awaited<ReturnType<typeof placeAnnotations>>,
  t: Transaction,
) {
  const noted = await notedIn(c, { inquiryId }, t)
  const rows = new Map<string, Placed>()
  for (const p of placed)
    if (!noted.has(p.ownId) && !noted.has(saysOf(p)) && !(p.passage && noted.has(p.passage))) rows.set(p.ownId, p)
  const ids = await addPassages(c, [...rows.values()], t)
  return { noted: ids, there: placed.length - ids.length, ...rest }
}

function readFile(bytes: Buffer) {
  try {
    return readAnnotations(decodeText(bytes).text)
  } catch (e) {
    throw new Problem(422, 'unreadable', e instanceof Error ? e.message : String(e))
  }
}

/** The copies that whoever asks may open, those first that are their works by their own text. */
async function copiesOf(c: Context, asker: Asker): Promise<Copy[]> {
  const all = await c.db.copies.findAll({
    where: { inquiryId: asker.inquiryId, outcome: ['proved', 'doubtful'] },
    attributes: ['id', 'workId', 'pages', 'labels', 'outcome'],
    order: [['outcome', 'DESC'], 'id'],
    raw: true,
  })
  const copies = await readable(c, asker, all)
  const ids = copies.map(x => x.workId)
  const works = await c.db.works.findAll({ where: { id: ids }, attributes: ['id', 'item'], raw: true })
  const doiOf = new Map(works.map(w => [w.id, normaliseDoi(w.item.DOI)]))
  return copies.map(x => ({ ...x, doi: doiOf.get(x.workId) }))
}

/** So many annotations are looked for where their words do not stand as they are: that takes a moment for each. */
const MOST_NEARLY = 200

/** The texts of copies, each read once it is asked for. */
class Texts {
  private readonly read = new Map<number, Promise<{ anchors: Anchors; letters: string }>>()
  private nearly = 0

  constructor(
    private readonly c: Context,
    private readonly copies: readonly Copy[],
  ) {}

  /** The copy that an annotation is of. @param own how addresses of copies of this inquiry begin */
  async copyOf(a: BroughtAnnotation, own: string): Promise<Copy | undefined> {
    const named = a.source.startsWith(own) ? Number.parseInt(a.source.slice(own.length), 10) : undefined
    const { letters } = lettersIn(a.exact)
    return (
      this.copies.find(x => x.id === named) ??
      (await this.first(
        this.copies.filter(x => a.doi && x.doi === a.doi),
        letters,
      )) ??
      (await this.alone(letters))
    )
  }

  /** Where the words of an annotation stand in a copy, and what tells them there. */
  async placeOf(copy: Copy, a: BroughtAnnotation) {
    const { exact, boxes } = a
    if (!exact) return undefined
    const { anchors, letters } = await this.textOf(copy)
    if (!letters.includes(lettersIn(exact).letters)) {
      if (this.nearly++ >= MOST_NEARLY) return undefined
      // others have their turn meanwhile
      await nextTurn()
    }
    const place = anchors.again(quotedAs(a))
    // where the words stand on another page than was said, so do the boxes
    const own = boxes[0]?.page === place?.page ? boxes : []
    return place && { page: place.page, selectors: anchors.select(place.exact, place.page, own) }
  }

  /** Of copies of one work that which has the words; else the first. */
  private async first(of: readonly Copy[], letters: string): Promise<Copy | undefined> {
    if (of.length > 1 && letters)
      for (const copy of of) if ((await this.textOf(copy)).letters.includes(letters)) return copy
    return of[0]
  }

  /** Words that stand in one work alone tell which it is. */
  private async alone(letters: string): Promise<Copy | undefined> {
    if (letters.length < FEWEST) return undefined
    const having: Copy[] = []
    for (const copy of this.copies) if ((await this.textOf(copy)).letters.includes(letters)) having.push(copy)
    return new Set(having.map(h => h.workId)).size === 1 ? having[0] : undefined
  }

  private textOf(copy: Copy) {
    const make = async () => {
      const pages = await pagesOf(this.c, copy.id, copy.pages)
      return { anchors: new Anchors(pages), letters: lettersIn(pages.join('\n')).letters }
    }
    const read = this.read.get(copy.id) ?? make()
    this.read.set(copy.id, read)
    return read
  }
}

const quotedAs = ({ exact, prefix, suffix }: BroughtAnnotation): Selector[] =>
  exact ? [{ type: 'TextQuoteSelector', exact, prefix, suffix }] : []

/** An annotation as the passage that it becomes: where its words stand now, else on the page that it names. */
function rowOf(
  a: BroughtAnnotation,
  copy: Copy,
  place: { page: number; selectors: Selector[] } | undefined,
  strandOf: ReadonlyMap<string, number>,
) {
  const { exact, note } = a
  const page = place?.page ?? Math.min(a.page ?? 1, copy.pages)
  const boxes = a.boxes.filter(b => b.page <= copy.pages)
  const selectors = place?.selectors ?? [...quotedAs(a), ...boxes.map(selectorOf)]
  const label = labelOver(copy, page, boxesOf(selectors))
  const kind = !exact && boxes.length ? 'figure' : exact && !(a.isComment && note) ? 'quoted' : 'in my words'
  const others = a.classes.filter(name => !strandOf.has(fold(name)))
  return {
    ...({ workId: copy.workId, copyId: copy.id, page, label, kind } as const),
    ...{ quote: exact, note, selectors },
    strandId: a.classes.map(name => strandOf.get(fold(name))).find(id => id !== undefined) ?? null,
    // what it was put under and is no strand here stays with it
    tags: [...new Set([...a.tags, ...others.map(name => firstLetters(name, 60))])].slice(0, 20),
  }
}
