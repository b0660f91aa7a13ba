type Tagger = typeof import('compromise/two').default

/** Words between phrases: they name nothing. */
const SMALL = new Set(
  (
    'a an and are as at be been being by can could did do does for from had has have how if in into is it its may might more ' +
    'most much must of on or our over shall should some than that the their them these they this those to under upon was ' +
    'were what when where whether which while who whom whose why will with within without would between among about through ' +
    'during before after against towards across not no nor but so such both either neither each other others very any many ' +
    'few less least there here then also only just even ever'
  ).split(' '),
)
/** What a question does with its matters, as verb or noun: it parts phrases. */
const PARTING = /^(change|affect|effect|influence|impact|alter|shape|harm|improve|reduce|increase|predict|cause)s?$/
/** What a question is about in form only, where it stands alone. */
const FRAME =
  /^(extent|role|factor|relationship|relation|association|way|kind|type|degree|evidence|study|studies|research|use|question|reason|thing)s?$/
/** With one of these a verb has no ending: "how do school gardens …". */
const ASKING = /^(do|does|did|can|could|will|would|should|may|might|must|shall)$/

/** With one of these a verb in -ing acts: “is warming harming …”. */
const LASTING = /^(is|are|was|were)$/

interface Tagged {
  text: string
  tags: string[]
}

/**
 * The noun phrases of a question, in order: what can become its concepts. Words of other tongues, whose verbs are not
 * known here, stay in runs between marks.
 * @example await phrasesOf('Does street lighting change what moths do in towns?') // ['street lighting', 'moths', 'towns']
 */
export async function phrasesOf(question: string): Promise<string[]> {
  // its lexicon takes half a second to read: whoever is asked for no phrases does without it
  const { default: tagger } = await import('compromise/two')
  const words = question.slice(0, 2000).match(/[\p{L}\p{N}'’-]+|[^\p{L}\p{N}\s'’-]/gu) ?? []
  const lower = words.map(w => w.toLowerCase())
  const tags = tagsOf(tagger, question.slice(0, 2000))
  const asking = lower.some(w => ASKING.test(w))
  const lasting = lower.some(w => LASTING.test(w))
  const phrases: string[] = []
  let run: string[] = []
  const end = () => {
    const phrase = run.join(' ')
    if (run.length && !FRAME.test(phrase)) phrases.push(phrase)
    run = []
  }
  const names = (w: string | undefined): boolean =>
    w !== undefined && /[\p{L}\p{N}]/u.test(w) && !SMALL.has(w) && !PARTING.test(w)
  lower.forEach((w, i) => {
    if (!names(w)) return end()
    const last = !names(lower[i + 1])
    if (isVerb(w, { first: !run.length, last, asking, lasting, before: run.at(-1), tags: tags.get(w) })) end()
    else run.push(w)
  })
  end()
  return [...new Set(phrases)]
}

/** The tagger knows words; where they stand tells whether such a word acts or names. */
function isVerb(
  w: string,
  at: {
    first: boolean
    last: boolean
    asking: boolean
    lasting: boolean
    before: string | undefined
    tags: Set<string> | undefined
  },
): boolean {
  // "islands worsening asthma", not "street lighting" nor "printing presses"
  if (/ing$/.test(w))
    return !at.first && !at.last && (/[^s]s$/.test(at.before ?? '') || (at.lasting && at.tags?.has('Verb') === true))
  if (!at.tags?.has('Verb') || at.tags.has('Noun')) return false
  // "gifted children", but "is used"
  if (/(ed|en)$/.test(w)) return !at.first || at.last
  return !(at.asking && /s$/.test(w))
}

function tagsOf(tagger: Tagger, question: string): Map<string, Set<string>> {
  const sentences = tagger(question).json({ terms: { tags: true, text: true } }) as { terms: Tagged[] }[]
  const tags = new Map<string, Set<string>>()
  for (const { text, tags: of } of sentences.flatMap(s => s.terms)) {
    const word = text.toLowerCase().replace(/[^\p{L}\p{N}'’-]/gu, '')
    if (!tags.has(word)) tags.set(word, new Set(of))
  }
  return tags
}
