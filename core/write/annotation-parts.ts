import type { Stretch } from '../bib/sentences'
import { sentencesOf } from '../bib/sentences'
import { citesOfOthers, type Mark } from './written'

/** What an annotation may be asked to have. */
export const ANNOTATION_PARTS = ['summary', 'method', 'judgement', 'use', 'relation'] as const
export type AnnotationPart = (typeof ANNOTATION_PARTS)[number]
/** As an assignment asks for it. */
export const PART_SAYS: Record<AnnotationPart, string> = {
  summary: 'what it says',
  method: 'how they found out',
  judgement: 'what it is worth',
  use: 'what it is for your question',
  relation: 'how it stands to other works',
}

/** Words and phrases that speak for a part: weak ones only with another, those with a name by its capital. */
const SIGNS: Record<AnnotationPart, { strong: RegExp; weak?: RegExp; named?: RegExp }> = {
  summary: {
    strong: signs(
      'argu(?:e|es|ed|ing)|find(?:s|ings?)?|found|show(?:s|ed|n)?|reports?|reported|examin(?:e|es|ed)|investigat(?:e|es|ed)|describ(?:e|es|ed)|discuss(?:es|ed)?|trac(?:e|es|ed)|conclud(?:e|es|ed)|suggest(?:s|ed)?|propos(?:e|es|ed)|explain(?:s|ed)|explor(?:e|es|ed)|outlin(?:e|es|ed)|present(?:s|ed)|tells?|develops|is developed|demonstrat(?:e|es|ed)|claims? that|identif(?:y|ies|ied)|analys(?:e|es|ed)|analyz(?:e|es|ed)|maintains?|observ(?:e|es|ed) that|introduc(?:e|es|ed)|summari[sz](?:e|es|ed)|considers|asks (?:how|why|whether)|studies (?:how|why|whether|the)|reviews (?:the|what)|calls? for|according to|overview|main (?:point|argument|thesis|idea)|is about|looks? at|deals with|focus(?:es|ed)? on|account of|history of|story of|theory of',
    ),
    weak: signs(
      'the (?:authors?|article|chapter|book|paper|study|report|essay|text|monograph|textbook)|they|offers?|explains?|fell|rose|increas(?:e|es|ed)|decreas(?:e|es|ed)|reduc(?:e|es|ed)|declin(?:e|es|ed)|grew|lost|helped|left|led|caus(?:e|es|ed)|improv(?:e|es|ed)|more often|less often|often(?:er)?|most|only those|by half|by a third|twice|because|\\d+(?:\\.\\d+)? ?%',
    ),
  },
  method: {
    strong: signs(
      'samples? (?:of|were|was)|sampled|survey(?:ed|s)? of|surveyed|interview(?:s|ed) (?:of|with|were)|interviewed|experiments?|trials?|randomi[sz]ed|random order|questionnaires?|meta-analysis|case stud(?:y|ies)|fieldwork|archives|archival|recordings?|coded|coding|measured|modell?ed|data (?:come|came|were|are|from)|drew on|draws? on|based on|participants|respondents|followed|regression|statistical(?:ly)?|methods?|methodology|approach is|photographs|records? (?:of|from)|register of|control group|analysed|analyzed|qualitative|quantitative|ethnograph(?:y|ic)|observations? (?:of|at|from)|compar(?:ed|es) (?:two|three|four|data|the results)|were compared|longitudinal|were (?:tested|asked|counted|observed|read)',
    ),
    weak: signs(
      'using|used|tested|collected|over (?:two|three|four|five|six|\\d+) (?:terms|years|months|weeks|seasons)|for (?:two|three|four|five|six|\\d+) (?:years|months|weeks)|\\d{2,}|case|read',
    ),
  },
  judgement: {
    strong: signs(
      'weakness(?:es)?|strengths?|limitations?|limits of|limited|shortcomings?|flaw(?:s|ed)?|persuasive|convincing(?:ly)?|unconvincing|credib(?:le|ility)|reliab(?:le|ility)|unreliable|bias(?:ed)?|caution|cautious|rigorous|thorough(?:ly)?|careful(?:ly)?|overstat(?:e|es|ed)|exaggerat(?:e|es|ed)|fails? to|neglects?|overlooks?|ignores?|omits?|lacks?|a (?:serious )?gap|too (?:\\w+ )?(?:\\w+)|polemical|one-sided|objective|leading (?:figure|expert|scholar)|expert|authority|authoritative|peer[- ]reviewed|refereed|excellent|outdated|dated|sound|well[- ](?:\\w+ed|written)|openly|thinly|may not|should be read|rarely cites|no evidence|not (?:peer|consider|address|discuss)|easy to follow|clearly|valuable|trustworthy|questionable|sample is small|small samples?|repeats|superficial|original|impressive|lively|unfortunately|good|poor|simple|with care|in detail|detailed|comprehensive|broad|narrow|up to date',
    ),
    weak: signs(
      'however|although|though|but|yet|strong|weak|clear|general audience|only|serious|self-reported|importance|at all|nevertheless|while',
    ),
  },
  use: {
    strong: signs(
      'my (?:own )?(?:\\w+ )?(?:project|paper|question|essay|thesis|argument|topic|claim|research|study|work|introduction|discussion|bibliography|purpose|point|dissertation|assignment)|my (?:own|first|second|third|main)|i (?:will|can|plan|intend|would|could|shall|may|include|use|am going|hope|expect|want)|i would not|helps? me|help me|for this (?:bibliography|inquiry|paper|project|essay)|useful (?:for|to|in|because)|relevant|will be (?:used|cited|useful)|can be used|will (?:serve|support)|serves as|part of (?:my|the) question',
    ),
  },
  relation: {
    strong: signs(
      'unlike|in contrast to|contrasts with|contrary to|agrees? with|disagrees?|builds? on|building on|extends?|contradicts?|complements?|challenges?|supports the (?:view|findings?|claim) of|confirms? (?:the|what)|together with|compared (?:with|to) the other|same (?:result|conclusion) (?:as|by)|to the same (?:result|conclusion)|on (?:my|this|the) list|other (?:sources|studies|works|articles|two|three)|earlier (?:work|study|view)|older view|similar to|differs? from|responds? to|replies to',
    ),
    named: signs(
      '[Bb]oth \\p{Lu}\\p{L}+ and \\p{Lu}\\p{L}+|[Ww]here \\p{Lu}\\p{L}+ (?:sees|finds|claims)|than the .{0,30}that \\p{Lu}\\p{L}+|[Ll]ike \\p{Lu}\\p{L}+|[Aa]s \\p{Lu}\\p{L}+ (?:does|did|also)',
      'gu',
    ),
  },
}
function signs(words: string, flags = 'giu'): RegExp {
  return new RegExp(`(?<![\\p{L}\\p{N}])(?:${words})(?![\\p{L}\\p{N}])`, flags)
}

/** Little words of English: a text with few of them is in another language, of which no signs are known. */
const ENGLISH =
  /(?<!\p{L})(?:the|of|and|to|in|is|are|was|were|that|this|it|for|with|on|as|by|at|from|they|their|a|an|not)(?!\p{L})/giu
const LEAST_ENGLISH = 0.18
/** Letters of an annotation that are looked at. */
const MOST = 50_000

export interface SeenPart extends Stretch {
  parts: AnnotationPart[]
}

const count = (pattern: RegExp, text: string): number => new Set(Array.from(text.matchAll(pattern), m => m[0])).size

/**
 * The parts that sentences of an annotation look like, by simple signs in their words: a hint to whoever writes, no
 * verdict. In English alone.
 * @param cites where other works are cited: a sentence that does relates its work to them
 * @returns undefined where the text is in another language; sentences in which nothing was seen are left out
 */
export function partsIn(text: string, cites: readonly Stretch[] = []): SeenPart[] | undefined {
  const read = text.slice(0, MOST)
  const words = read.match(/\p{L}+/gu)?.length ?? 0
  if (!words) return []
  if ((read.match(ENGLISH)?.length ?? 0) < words * LEAST_ENGLISH) return undefined
  const out: SeenPart[] = []
  for (const { from, to } of sentencesOf(read)) {
    const segment = read.slice(from, to)
    const parts = ANNOTATION_PARTS.filter(p => {
      if (p === 'relation' && cites.some(c => c.from >= from && c.to <= to)) return true
      const { strong, weak, named } = SIGNS[p]
      const has = (pattern: RegExp | undefined, least: number) =>
        pattern !== undefined && count(pattern, segment) >= least
      return has(strong, 1) || has(named, 1) || has(weak, 2)
    })
    if (parts.length) out.push({ from, to, parts })
  }
  return out
}

/** Which parts an annotation seems to have. @param work the work that it is of: to cite that relates it to nothing */
export function partsSeen(text: string, marks: readonly Mark[], work: number): ReadonlySet<AnnotationPart> | undefined {
  const seen = partsIn(text, citesOfOthers(marks, work))
  return seen && new Set(seen.flatMap(s => s.parts))
}

/** The part for which a head of a sheet of reading is likely; one of one’s own tells what a work says. */
export const partOfHead = (head: string): AnnotationPart => OF_HEAD[head] ?? 'summary'
const OF_HEAD: Record<string, AnnotationPart> = { method: 'method', place: 'method', limits: 'judgement', view: 'use' }

/** The part for which a passage is likely: words of the work itself judge nothing and are of no use by themselves. */
export function partOfPassage(words: string, isQuoted: boolean): AnnotationPart {
  const seen = new Set(partsIn(words)?.flatMap(s => s.parts))
  if (isQuoted) return seen.has('method') && !seen.has('summary') ? 'method' : 'summary'
  return (['use', 'relation', 'judgement', 'method'] as const).find(p => seen.has(p)) ?? 'summary'
}
