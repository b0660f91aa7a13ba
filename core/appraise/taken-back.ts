import { withoutEnd } from '../bib/clean'
import { foldTitle } from '../bib/fold'

/** What can be said of a work afterwards, the gravest first. */
export const VERDICTS = ['retracted', 'withdrawn', 'in doubt', 'corrected'] as const
export type Verdict = (typeof VERDICTS)[number]

/** Of whom a notice may come; before what it is. */
const FROM = "(?:(?:author|publisher|editorial|editor)(?:[’']s)? )?"
/** How notices are called, in the languages of catalogues. */
const NOTICES: Record<Verdict, string> = {
  retracted:
    'retractions?(?: notice| note)?|notice of retraction|(?:note de |avis de )?rétractation|(?:nota de )?retractación|ritrattazione|(?:nota de )?retratação|zurückziehung|intrekking|tilbagetrækning|tilbaketrekking|tillbakadragande|wycofanie|ретракция|отзыв статьи|撤稿(?:声明)?|撤回',
  withdrawn: 'withdrawals?(?: notice| note)?|notice of withdrawal|retrait',
  'in doubt': 'expressions? of concern',
  corrected:
    "corrections?|publisher[’']s note|errat(?:um|a)|corrigend(?:um|a)|notice of correction|addend(?:um|a)|berichtigung(?:en)?|korrektur(?:en)?|rectificatif|rectification|fe de err(?:atas|ores)|corrección|rectificación|errata corrige|rettifica|rättelse(?:r)?|rettelse(?:r)?|rectificatie|oprava|sprostowanie|errata do|исправление|поправка|correção|更正|勘误|訂正|正誤表",
}
/** Those of them that are the name of nothing else. */
export const NOTICE = `${FROM}(?:${[NOTICES.retracted, NOTICES['in doubt'], NOTICES.corrected].join('|')})`

/** What ties the name of a notice to the title of what it speaks of. */
const OF = '(?:to|of|for|on|zu|zum|zur|von|de|du|à|au|al|alla|di|do|da|till|til|av|af|van|bij|к)'
const TIE =
  `(?:\\s*[:：.–—-]\\s*(?:${OF}\\s*[:：]?\\s+)?|\\s+${OF}\\s*[:：]?\\s+)` +
  "(?:(?:the |this |our |l[’']|el |la |il |de )?(?:article|paper|chapter|artikel|articolo|artículo|artigo)\\b\\s*[:,]?\\s*(?:(?:titled|entitled)\\s+)?)?"
const SPEAKING = VERDICTS.map(
  says => [says, new RegExp(`^[^\\p{L}]*${FROM}(?:${NOTICES[says]})${TIE}(?=\\S)`, 'iu')] as const,
)
/** Words by which a title says of its own work that it does not stand any more. */
const OWN =
  '(?<retracted>retracted|zurückgezogen|rétracté|retractado|ritrattato|retratado|ingetrokken|tilbagetrukket|tilbaketrukket|tillbakadragen|wycofany|отозвана)|(?<withdrawn>(?:temporarily )?withdrawn|retirado|ritirato)'
const THING = '(?:\\s+(?:article|paper|chapter|artikel|aufsatz|artículo|articolo|artigo|publication))?'
const FIRST = new RegExp(`^[^\\p{L}]*(?:${OWN})${THING}\\s*[:：\\])）】–—][^\\p{L}\\p{N}]*(?=\\S)`, 'iu')
const LAST = new RegExp(`[[(（]\\s*(?:${OWN})${THING}(?:[ .,;:][^[\\](（）)]*)?[\\])）][^\\p{L}]*$`, 'iu')

/** What a title says of a work: of its own, or, where it is that of a notice, of another one. */
export interface Said {
  says: Verdict
  /** The title without what says it: that of the work itself, or of the other one. */
  title: string
}

/** @param given plain */
export function saidOfItself(given: string): Said | undefined {
  const title = spaced(given)
  const found = FIRST.exec(title) ?? LAST.exec(title)
  if (!found) return undefined
  const rest = found.index === 0 ? title.slice(found[0].length) : title.slice(0, found.index)
  return { says: found.groups!.retracted ? 'retracted' : 'withdrawn', title: bare(rest) }
}

/** Of which other work a notice speaks, by its title. @param given plain */
export function saidOfAnother(given: string): Said | undefined {
  const title = spaced(given)
  if (FIRST.test(title)) return undefined
  for (const [says, pattern] of SPEAKING) {
    const found = pattern.exec(title)
    if (found) return { says, title: bare(title.slice(found[0].length)) }
  }
  return undefined
}

/** What registrations of DOIs call an update; nothing of a new edition or version. */
export function verdictOf(type: string): Verdict | undefined {
  const said = type.toLowerCase().replace(/[_-]+/g, ' ')
  if (/concern/.test(said)) return 'in doubt'
  if (/partial/.test(said) || /correct|errat|corrigend|addend|clarif/.test(said)) return 'corrected'
  if (/withdraw|remov/.test(said)) return 'withdrawn'
  return /retract/.test(said) ? 'retracted' : undefined
}

/** Runs of blanks would be gone through anew from each blank of them. */
const spaced = (title: string): string => title.replace(/\s+/gu, ' ').trim()

/** Without the marks of a quotation and the stop at its end. */
export const bare = (title: string): string => withoutEnd(title.replace(/^[\s“"‘'«„]+/u, ''), /[\s”"’'».]/u).trim()

/** A work of which something is said: by its own title, or by that of a notice. */
export interface TakenBack {
  /** Its place among the works. */
  at: number
  says: Verdict
  /** The place of the notice; null where its own title says so. */
  by: number | null
}
/** Folded titles shorter than this are shared by works that have nothing to do with one another. */
const TELLING = 12

/**
 * Works of which something is said, by what they and the notices among them are called.
 * @param titles of each work the titles that it has in one source or another, plain
 * @returns the gravest first
 */
export function takenBackAmong(titles: readonly (readonly string[])[]): TakenBack[] {
  const found = new Map<string, TakenBack>()
  const add = (of: TakenBack) => void found.set(`${of.at} ${of.says} ${of.by ?? ''}`, of)
  const spoken = new Map<string, { at: number; says: Verdict }[]>()
  titles.forEach((list, at) => {
    for (const title of list) {
      const own = saidOfItself(title)
      if (own) add({ at, says: own.says, by: null })
      // one that has the same title without its mark, in a catalogue that cannot tell the two for one
      const other = own ?? saidOfAnother(title)
      const key = other && foldTitle(other.title)
      if (key && key.length > TELLING) spoken.set(key, [...(spoken.get(key) ?? []), { at, says: other.says }])
    }
  })
  if (spoken.size)
    titles.forEach((list, at) => {
      for (const title of list)
        for (const { at: by, says } of spoken.get(foldTitle(saidOfItself(title)?.title ?? title)) ?? [])
          if (by !== at && !found.has(`${at} ${says} `)) add({ at, says, by })
    })
  const grave = ({ says }: TakenBack) => VERDICTS.indexOf(says)
  return [...found.values()].sort((a, b) => grave(a) - grave(b) || a.at - b.at || (a.by ?? -1) - (b.by ?? -1))
}
