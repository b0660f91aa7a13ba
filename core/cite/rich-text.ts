import { Parser } from 'htmlparser2'
import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'

/** A stretch of formatted text. */
export interface RichRun {
  text: string
  italic?: boolean
  bold?: boolean
  smallCaps?: boolean
  underlined?: boolean
  raised?: 'super' | 'sub'
  link?: string
}

const MOST_MARKS = 2000
/** Styles within styles: deeper ones are as the last. No citation needs more than three. */
const DEEPEST = 50

/**
 * Reads the little HTML that citation styles give out into runs: italics, bold, small capitals, raised and lowered
 * text. Any other markup is passed over, so that nothing from a record is ever shown as markup.
 */
export function readRichText(html: string): RichRun[] {
  const runs: RichRun[] = []
  // what is all marks is no citation: the parser would take long over it
  if (html.split('<', MOST_MARKS + 1).length > MOST_MARKS) return [{ text: inOneLine(html) }]
  const stack: Partial<RichRun>[] = [{}]
  let depth = 0
  const parser = new Parser({
    ontext: text => void runs.push({ text, ...stack.at(-1)! }),
    onopentag: (tag, { style = '', class: names = '' }) => {
      if (++depth < DEEPEST) stack.push({ ...stack.at(-1), ...styleOf(tag, `${style} ${names}`) })
    },
    onclosetag: () => {
      if (depth-- < DEEPEST) stack.pop()
    },
  })
  parser.end(html)
  return withLinks(trimEnds(joinEqual(runs)))
}

function styleOf(tag: string, attributes: string): Partial<RichRun> {
  if (tag === 'i' || tag === 'em' || /italic/.test(attributes))
    return { italic: !/font-style:\s*normal/.test(attributes) }
  if (tag === 'b' || tag === 'strong' || /font-weight:\s*bold/.test(attributes)) return { bold: true }
  if (/font-style:\s*normal/.test(attributes)) return { italic: false }
  if (tag === 'sup') return { raised: 'super' }
  if (tag === 'sub') return { raised: 'sub' }
  if (/small-caps/.test(attributes)) return { smallCaps: true }
  if (tag === 'u' || /text-decoration:\s*underline/.test(attributes)) return { underlined: true }
  return {}
}

function joinEqual(runs: RichRun[]): RichRun[] {
  const out: RichRun[] = []
  for (const r of runs) {
    const text = inOneLine(r.text)
    const last = out.at(-1)
    const clean: RichRun = { text }
    if (r.italic) clean.italic = true
    if (r.bold) clean.bold = true
    if (r.smallCaps) clean.smallCaps = true
    if (r.underlined) clean.underlined = true
    if (r.raised) clean.raised = r.raised
    const same =
      last &&
      last.italic === clean.italic &&
      last.bold === clean.bold &&
      last.smallCaps === clean.smallCaps &&
      last.underlined === clean.underlined &&
      last.raised === clean.raised
    if (same) last.text += text
    else out.push(clean)
  }
  return out
}

function trimEnds(runs: RichRun[]): RichRun[] {
  const first = runs[0]
  const last = runs.at(-1)
  if (first) first.text = first.text.trimStart()
  if (last) last.text = last.text.trimEnd()
  return runs.filter(r => r.text)
}

/** Addresses become links of their own. */
function withLinks(runs: RichRun[]): RichRun[] {
  return runs.flatMap(r => {
    const out: RichRun[] = []
    let at = 0
    for (const m of r.text.matchAll(/https?:\/\/[^\s<>]+[^\s<>.,;)]/g)) {
      if (m.index > at) out.push({ ...r, text: r.text.slice(at, m.index) })
      out.push({ ...r, text: m[0], link: m[0] })
      at = m.index + m[0].length
    }
    if (at < r.text.length) out.push({ ...r, text: r.text.slice(at) })
    return out
  })
}

export const plainText = (runs: readonly RichRun[]): string => runs.map(r => r.text).join('')

/** A text as HTML has it, between tags and in attributes. */
export const escapeHtml = (s: string): string =>
  cleanText(s).replace(/[&<>"']/g, c => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!)

export function toHtml(runs: readonly RichRun[]): string {
  return runs
    .map(r => {
      let h = escapeHtml(r.text)
      if (r.raised) h = r.raised === 'super' ? `<sup>${h}</sup>` : `<sub>${h}</sub>`
      if (r.smallCaps) h = `<span style="font-variant:small-caps">${h}</span>`
      if (r.underlined) h = `<u>${h}</u>`
      if (r.italic) h = `<i>${h}</i>`
      if (r.bold) h = `<b>${h}</b>`
      return r.link ? `<a href="${escapeHtml(r.link)}">${h}</a>` : h
    })
    .join('')
}

/**
 * A text that Markdown takes as it is: nothing of it becomes markup, a list, a table or a heading.
 * @example escapeMarkdown('- *not* a list') // '\\- \\*not\\* a list'
 */
export const escapeMarkdown = (text: string): string =>
  inOneLine(cleanText(text))
    .replace(/[\\`*_[\]<>#~|]|&(?=#?\w)/g, '\\$&')
    .replace(
      /^(\s{0,10})([-+=]|\d{1,9}[.)])/,
      (_, space: string, mark: string) => `${space}${mark.replace(/[-+=.)]$/, '\\$&')}`,
    )

export function toMarkdown(runs: readonly RichRun[]): string {
  return runs
    .map(r => {
      if (r.link) return `<${r.link}>`
      const body = escapeMarkdown(r.text)
      if (!r.italic && !r.bold) return body
      const mark = r.bold ? (r.italic ? '***' : '**') : '*'
      const inner = body.trim()
      if (!inner) return body
      const at = body.indexOf(inner)
      return `${body.slice(0, at)}${mark}${inner}${mark}${body.slice(at + inner.length)}`
    })
    .join('')
}
