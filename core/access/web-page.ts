import LinkHeader from 'http-link-header'
import { Parser } from 'htmlparser2'

/** A link of a page, with what can be read of where it leads. */
export interface Anchor {
  href: string
  /** Its words, or those of its picture. */
  text: string
  /** Texts of the blocks it stands in, from the smallest; none is longer than a paragraph. */
  around: readonly string[]
  /** The heading it stands under. */
  under: string
  /** Whether it stands beside the matter of the page: in a head, a foot, a bar of links. */
  beside: boolean
  rel: string
}

export type Field = [name: string, value: string]

export interface Form {
  action: string
  method: 'GET' | 'POST'
  /** What is sent without the reader's doing. */
  hidden: readonly Field[]
  boxes: readonly { name: string; value: string }[]
  buttons: readonly { name: string; value: string; text: string }[]
  asksPassword: boolean
  /** Fields that the reader is to fill in, by their names. */
  asks: readonly string[]
  /** What stands in them already. */
  filled: readonly string[]
  text: string
}

/** A page of the web as far as a walk needs it. */
export interface WebPage {
  url: string
  title: string
  headings: readonly string[]
  /** What its head says by name, names in lower case; the first of each. */
  metas: ReadonlyMap<string, string>
  /** Addresses that it names as the text itself, likeliest first: by its answer's links, in its head, or shown within it. */
  files: readonly string[]
  /** Pages that it is put together of. */
  frames: readonly string[]
  /** Where it sends on by itself. */
  onward?: string
  anchors: readonly Anchor[]
  forms: readonly Form[]
  /** Its words as they are read, a line a block. */
  text: string
  /** Words for those whose browser runs no programs. */
  noscript: string
}

/** Links and forms of a page that are looked at, and letters of its text. */
const MOST_ANCHORS = 4000
const MOST_FORMS = 100
const MOST_TEXT = 400_000
/** Letters of a block that says what its link is. */
const BLOCK = 600
/** Blocks of a link that are kept, and levels that are looked at for them. */
const BLOCKS = 4
const LEVELS = 12

const BLOCKISH = new Set('li tr td p div article section dd dt h1 h2 h3 h4 h5 h6 span form label'.split(' '))
const BESIDE = new Set(['nav', 'header', 'footer', 'aside'])
const SILENT = new Set(['script', 'style', 'template', 'svg', 'title'])
const VOID = new Set('img br hr input link meta base area embed source wbr frame param track col'.split(' '))
const PDF = 'application/pdf'

interface Open {
  tag: string
  /** Where its words begin, and its links. */
  from: number
  anchors: number
  beside: boolean
  silent: boolean
  noscript: boolean
  href?: string
  rel?: string
  /** Where choosing it from a list leads. */
  chosen?: string | undefined
}
type Draft<T> = { -readonly [K in keyof T]: T[K] extends readonly (infer E)[] ? E[] : T[K] }

const plain = (text: string): string => text.replace(/\s+/g, ' ').trim()

/** The files that the `Link` of an answer names as its item (RFC 8288). */
function linked(header: string, to: (href: string) => string | undefined): string[] {
  if (!header) return []
  try {
    return LinkHeader.parse(header).refs.flatMap(r => {
      const isText = r.type?.toLowerCase().startsWith(PDF) && /\b(item|alternate|enclosure)\b/i.test(r.rel)
      const at = isText ? to(r.uri) : undefined
      return at ? [at] : []
    })
  } catch {
    // what cannot be read names no file; the page itself may
    return []
  }
}

/**
 * Reads a page, however it is written; what is broken in it is read as browsers do.
 * @param html its text
 * @param url its address, by which its links are made whole
 * @param link the `Link` of its answer
 */
export function readWebPage(html: string, url: string, link = ''): WebPage {
  let base = url
  const to = (href: string | undefined): string | undefined => {
    const at = href?.trim()
    if (!at || /^(javascript|mailto|tel|data|blob|about):/i.test(at) || !URL.canParse(at, base)) return undefined
    const made = new URL(at, base)
    made.hash = ''
    return /^https?:$/.test(made.protocol) ? made.href : undefined
  }
  const anchors: Draft<Anchor>[] = []
  const forms: Draft<Form>[] = []
  const headings: string[] = []
  const metas = new Map<string, string>()
  const named: string[] = []
  const shown: string[] = []
  const frames: string[] = []
  let onward: string | undefined
  let title = ''
  let text = ''
  let noscript = ''
  let under = ''
  const stack: Open[] = []
  /** Links whose blocks are still looked for, in their order. */
  const waiting: { n: number; seen: number }[] = []
  let form: Draft<Form> | undefined
  /** The name of the list that is chosen from. */
  let list = ''
  let button: { at: number; from: number } | undefined

  const add = (more: string) => {
    if (text.length < MOST_TEXT) text += more
  }
  /** Gives the words of a block to the links that stand in it. */
  const endBlock = ({ from, anchors: first }: Open) => {
    let outside = waiting.length
    while (outside > 0 && waiting[outside - 1]!.n >= first) outside--
    if (outside === waiting.length) return
    const words = text.length - from <= BLOCK ? plain(text.slice(from)) : undefined
    const still = waiting.splice(outside).filter(w => {
      const a = anchors[w.n]!
      if (words && words !== a.around.at(-1) && words !== a.text) a.around.push(words)
      return words !== undefined && a.around.length < BLOCKS && ++w.seen < LEVELS
    })
    waiting.push(...still)
  }
  const addAnchor = (href: string, words: string, beside: boolean, rel = '') => {
    if (anchors.length >= MOST_ANCHORS) return
    waiting.push({ n: anchors.length, seen: 0 })
    anchors.push({ href, text: words, around: [], under, beside, rel })
  }
  /** Where one of a list to choose from leads: an address itself, or what its form sends. */
  const chosenAt = (value: string): string | undefined => {
    if (/^(https?:)?\//.test(value)) return to(value)
    if (form?.method !== 'GET' || !list || !value) return undefined
    const at = new URL(form.action)
    at.search = new URLSearchParams([...form.hidden, [list, value]]).toString()
    return at.href
  }
  const viewed = (src: string): string => {
    const file = new URL(src).searchParams.get('file')
    return (file && to(file)) || src
  }
  const parser = new Parser({
    onopentag(tag, a) {
      const parent = stack.at(-1)
      const at = (name: string) => to(a[name])
      const label = a['aria-label'] ?? a.alt ?? ''
      if (tag === 'base' && a.href && base === url) base = to(a.href) ?? base
      else if (tag === 'meta') {
        const name = (a.name ?? a.property ?? '').toLowerCase()
        if (name && a.content && !metas.has(name)) metas.set(name, plain(a.content))
        if (/^refresh$/i.test(a['http-equiv'] ?? ''))
          onward ??= to(/url\s*=\s*["']?([^"']*)/i.exec(a.content ?? '')?.[1])
      } else if (tag === 'link') {
        const isFile = /\b(alternate|item|enclosure)\b/i.test(a.rel ?? '') && (a.type ?? '').trim().toLowerCase()
        const file = isFile && isFile.startsWith(PDF) ? at('href') : undefined
        if (file) named.push(file)
      } else if (tag === 'iframe' || tag === 'frame') {
        const src = at('src')
        if (src && (viewed(src) !== src || /\.pdf\b/i.test(src))) shown.push(viewed(src))
        else if (src) frames.push(src)
      } else if (tag === 'embed' || tag === 'object') {
        const src = at(tag === 'embed' ? 'src' : 'data')
        if (src && ((a.type ?? '').toLowerCase().startsWith(PDF) || /\.pdf\b/i.test(src))) shown.push(src)
      } else if (tag === 'img' && label) add(` ${label} `)
      else if (tag === 'form' && forms.length < MOST_FORMS) {
        const method = (a.method ?? '').toUpperCase() === 'POST' ? 'POST' : 'GET'
        form = newForm(to(a.action) ?? url, method)
        forms.push(form)
      } else if (tag === 'input') {
        const kind = (a.type ?? 'text').toLowerCase()
        if (kind === 'password' && !form) forms.push({ ...newForm(url, 'POST'), asksPassword: true })
        if (form) {
          if (kind === 'hidden') form.hidden.push([a.name ?? '', a.value ?? ''])
          else if (kind === 'checkbox') form.boxes.push({ name: a.name ?? '', value: a.value ?? 'on' })
          else if (kind === 'submit' || kind === 'image')
            form.buttons.push({ name: a.name ?? '', value: a.value ?? '', text: a.value ?? label })
          else if (kind !== 'button' && kind !== 'reset') {
            form.asks.push(a.name ?? '')
            if (a.value) form.filled.push(a.value)
          }
          if (kind === 'password') form.asksPassword = true
        }
      } else if (tag === 'textarea' || tag === 'select') {
        form?.asks.push(a.name ?? '')
        if (tag === 'select') list = a.name ?? ''
      } else if (tag === 'button' && form && (a.type ?? 'submit').toLowerCase() === 'submit') {
        button = { at: form.buttons.length, from: text.length }
        form.buttons.push({ name: a.name ?? '', value: a.value ?? '', text: label })
      }
      if (BLOCKISH.has(tag) || tag === 'br') add('\n')
      if (VOID.has(tag)) return
      const href = tag === 'a' ? at('href') : undefined
      stack.push({
        ...{ tag, from: text.length, anchors: anchors.length },
        beside: Boolean(parent?.beside) || BESIDE.has(tag) || /^(navigation|banner|contentinfo)$/.test(a.role ?? ''),
        silent: Boolean(parent?.silent) || SILENT.has(tag),
        noscript: Boolean(parent?.noscript) || tag === 'noscript',
        ...(href ? { href, rel: (a.rel ?? '').toLowerCase() } : {}),
        ...(tag === 'option' ? { chosen: chosenAt(a.value ?? '') } : {}),
      })
      // a label speaks for a link without words
      if (href && label) add(` ${label} `)
      else if (href && a.title) add(` ${a.title} `)
    },
    ontext(words) {
      const at = stack.at(-1)
      if (at?.tag === 'title') title += words
      else if (at?.silent) return
      else if (at?.noscript) noscript += noscript.length < 10_000 ? words : ''
      else add(words)
    },
    onclosetag(tag) {
      if (VOID.has(tag)) return
      const at = stack.pop()
      if (!at) return
      const words = (most: number) => plain(text.slice(at.from, at.from + most))
      if (at.chosen) addAnchor(at.chosen, words(BLOCK), at.beside)
      if (at.href) addAnchor(at.href, words(BLOCK), at.beside, at.rel)
      if (/^h[1-6]$/.test(tag)) {
        under = words(BLOCK)
        if (under && headings.length < 200) headings.push(under)
      }
      if (tag === 'button' && button && form) {
        const made = form.buttons[button.at]
        if (made) made.text = plain(text.slice(button.from, button.from + BLOCK)) || made.text
        button = undefined
      }
      if (tag === 'form' && form) {
        form.text = words(4000)
        const pressed = form.method === 'GET' && !form.asks.length && !form.boxes.length && form.buttons[0]
        if (pressed) addAnchor(pressedAt(form), form.buttons.map(b => b.text).join(' '), at.beside)
        form = undefined
      }
      if (BLOCKISH.has(tag)) {
        add('\n')
        endBlock(at)
      }
    },
  })
  parser.end(html)
  const told = to(metas.get('citation_pdf_url'))
  return {
    ...{ url, title: plain(title), headings, metas, frames, anchors, forms },
    files: [...new Set([...linked(link, to), ...(told ? [told] : []), ...named, ...shown])],
    ...(onward && onward !== url ? { onward } : {}),
    text: text.split('\n').map(plain).filter(Boolean).join('\n'),
    noscript: plain(noscript),
  }
}

const newForm = (action: string, method: Form['method']): Draft<Form> => ({
  ...{ action, method, hidden: [], boxes: [], buttons: [], asksPassword: false, asks: [], filled: [], text: '' },
})

/** Where a form without anything to fill in leads: a link with a button. */
function pressedAt({ action, hidden, buttons }: Pick<Form, 'action' | 'hidden' | 'buttons'>): string {
  const to = new URL(action)
  const button = buttons[0]!
  const fields = [...hidden, ...(button.name ? [[button.name, button.value] as Field] : [])]
  if (fields.length) to.search = new URLSearchParams(fields).toString()
  return to.href
}
