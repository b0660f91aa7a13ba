import { Parser } from 'htmlparser2'

/** Marks that CSL-JSON has within a text, by what registries and publishers call them. */
const MARKS: Record<string, [string, string]> = {
  ...byNames('i em italic', '<i>', '</i>'),
  ...byNames('b strong bold', '<b>', '</b>'),
  ...byNames('sup', '<sup>', '</sup>'),
  ...byNames('sub inf', '<sub>', '</sub>'),
  ...byNames('sc scp small-caps', '<span style="font-variant:small-caps;">', '</span>'),
}
const BLOCKS = new Set(
  'p title sec div br li list list-item h1 h2 h3 h4 h5 h6 tr table ul ol section break disp-formula'.split(' '),
)
const PASSED = new Set(
  'span a u font small abstract underline inline-formula alternatives xref ext-link named-content styled-content label math semantics q cite roman'.split(
    ' ',
  ),
)
/** What says the same once more for machines. */
const TWICE = new Set(['tex-math', 'annotation', 'script', 'style'])
const PREFIXES = '(?:jats|mml|m|xhtml|html|ja):'
function byNames(names: string, open: string, close: string): Record<string, [string, string]> {
  return Object.fromEntries(names.split(' ').map(n => [n, [open, close]]))
}

/** Marks in one text at most: what has more is no title and no abstract. */
const MOST_MARKS = 4000

/**
 * A text without the markup that registries, publishers and web pages leave in it; entities become their letters. What
 * only looks like markup ("a <b and c> d") stays. A text with none comes back as it is.
 * @param marks whether italics, bold, raised, lowered text and small capitals stay, in the way of CSL-JSON
 * @example withoutMarkup('<jats:p>On <jats:italic>Culex</jats:italic> &amp; lamps</jats:p>', true)
 * // 'On <i>Culex</i> & lamps'
 */
export function withoutMarkup(text: string, marks: boolean): string {
  const once = pass(text, marks)
  // some escape their markup before they store it
  if (once === text) return text
  const named = (tag: RegExp) => Array.from(text.matchAll(tag), m => m[1]!)
  const closed = new Set(named(/&lt;\/([\w:-]{1,30})&gt;/g))
  return named(/&lt;([\w:-]{1,30})&gt;/g).some(name => closed.has(name)) ? pass(once, marks) : once
}

/** Where something begins that is no markup, whatever it looks like. */
const NO_TAG = new RegExp(
  `<(?!!--|/?(?:${PREFIXES}\\w+|${[...Object.keys(MARKS), ...BLOCKS, ...PASSED, ...TWICE].join('|')})(?![\\w:-])(?:[^<>"']|"[^"<>]*"|'[^'<>]*')*>)`,
  'gi',
)

function pass(given: string, marks: boolean): string {
  if (!/<[a-z/!]|&#?\w{1,31};/i.test(given)) return given
  if (given.split('<', MOST_MARKS + 1).length > MOST_MARKS) return given
  const commented = given.lastIndexOf('-->') > given.lastIndexOf('<!--') ? given : given.replaceAll('<!--', '&lt;!--')
  const text = commented.replace(NO_TAG, '&lt;')
  let out = ''
  let twice = 0
  // what each open element closes with; undefined is as it stands in the source
  const open: { name: string; close: string | undefined }[] = []
  const put = (t: string) => {
    if (!twice) out += t
  }
  const source = () => text.slice(parser.startIndex, parser.endIndex + 1)
  const parser = new Parser(
    {
      ontext: put,
      onprocessinginstruction: () => put(source()),
      onopentag: (name, attributes) => {
        const bare = name.replace(/^\w+:/, '')
        const block = BLOCKS.has(bare) ? (marks ? ' ' : '\n') : undefined
        // words between the brackets: "a <b and c> d"
        if (Object.values(attributes).some(v => v === '')) {
          put(source())
          return void open.push({ name, close: undefined })
        }
        // case that a style must leave alone, and small capitals, are marks of CSL too
        const own = bare === 'span' && /nocase|small-caps/.test(`${attributes.class} ${attributes.style}`)
        const [begin, close] = own ? [source(), '</span>'] : (MARKS[bare] ?? ['', ''])
        put(block ?? (marks ? begin : ''))
        open.push({ name: bare, close: block ?? (marks ? close : '') })
        if (TWICE.has(bare)) twice++
      },
      onclosetag: (_, implied) => {
        const one = open.pop()
        if (!one) return
        if (TWICE.has(one.name)) twice--
        put(one.close ?? (implied ? '' : source()))
      },
    },
    { recognizeSelfClosing: true },
  )
  parser.end(text)
  return out
}
