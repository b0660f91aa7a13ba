import { execFile } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import {
  AlignmentType,
  Document,
  FootnoteReferenceRun,
  Header,
  Packer,
  PageNumber,
  Paragraph,
  SectionType,
  TextRun,
} from 'docx'
import type { Known, Setting } from './known'

const run = promisify(execFile)

interface Maker {
  command: string
  /** It can number pages from any number on. */
  beginsAnywhere: boolean
  /** It can set notes in the margin. */
  setsBeside?: boolean
  /** Sets a text in a folder. @returns the PDF */
  set: (k: Known, s: Setting, folder: string) => Promise<string>
}

/** Programs of other makers that set a text, by the commands they are called by. */
export const MAKERS: Record<string, Maker> = {
  browser: {
    command: 'chromium',
    beginsAnywhere: true,
    set: async (k, s, folder) => {
      const from = join(folder, 'text.html')
      const to = join(folder, 'text.pdf')
      writeFileSync(from, html(k, s, false))
      const flags = ['--headless', '--no-sandbox', '--disable-gpu', `--user-data-dir=${join(folder, 'profile')}`]
      await run('chromium', [...flags, '--no-pdf-header-footer', `--print-to-pdf=${to}`, `file://${from}`])
      return to
    },
  },
  'style sheets': {
    command: 'weasyprint',
    setsBeside: true,
    beginsAnywhere: false,
    set: async (k, s, folder) => {
      const from = join(folder, 'text.html')
      const to = join(folder, 'text.pdf')
      writeFileSync(from, html(k, s, true))
      await run('weasyprint', ['-q', from, to])
      return to
    },
  },
  roff: {
    command: 'groff',
    beginsAnywhere: true,
    set: async (k, s, folder) => {
      const from = join(folder, 'text.ms')
      writeFileSync(from, roff(k, s))
      const { stdout } = await run('groff', ['-ms', '-Kutf8', '-Tpdf', from], { encoding: 'buffer', maxBuffer: 1e8 })
      const to = join(folder, 'text.pdf')
      writeFileSync(to, stdout)
      return to
    },
  },
  TeX: {
    command: 'pdflatex',
    setsBeside: true,
    beginsAnywhere: true,
    set: async (k, s, folder) => {
      writeFileSync(join(folder, 'text.tex'), tex(k, s))
      await run('pdflatex', ['-interaction=batchmode', 'text.tex'], { cwd: folder }).catch(() => undefined)
      return join(folder, 'text.pdf')
    },
  },
  office: {
    command: 'soffice',
    beginsAnywhere: true,
    set: async (k, s, folder) => {
      writeFileSync(join(folder, 'text.docx'), await docx(k, s))
      await run('soffice', [
        `-env:UserInstallation=file://${join(folder, 'profile')}`,
        '--headless',
        '--convert-to',
        'pdf',
        '--outdir',
        folder,
        join(folder, 'text.docx'),
      ])
      return join(folder, 'text.pdf')
    },
  },
}

/** The same, kept under a name in a folder: what is there is not set again. */
export async function setOrKept(
  maker: string,
  k: Known,
  s: Setting,
  keep: { folder: string; name: string } | undefined,
): Promise<Buffer | undefined> {
  const file = keep && join(keep.folder, `${keep.name}.pdf`.replace(/ /g, '-'))
  if (file && existsSync(file)) return readFileSync(file)
  const bytes = await setBy(maker, k, s)
  if (file && bytes) {
    mkdirSync(keep.folder, { recursive: true })
    writeFileSync(file, bytes)
  }
  return bytes
}

/** A text set by a maker, as a PDF; undefined where this machine has no such program. */
export async function setBy(maker: string, k: Known, s: Setting): Promise<Buffer | undefined> {
  const m = MAKERS[maker]!
  try {
    await run('which', [m.command])
  } catch {
    return undefined
  }
  const folder = mkdtempSync(join(tmpdir(), 'vine-pages-'))
  try {
    return readFileSync(await m.set(k, s, folder))
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** Raised figures as a program sets them. */
const signed = (text: string, raise: (figure: string) => string): string =>
  text.replace(/[¹²³]/g, c => raise(c.normalize('NFKC')))
const places = (k: Known): string[] => (k.places ?? []).map((p, i) => `${'¹²³'[i]!}${p}`)

const esc = (t: string): string => t.replace(/&/g, '&amp;').replace(/</g, '&lt;')

function html(k: Known, s: Setting, hasNotes: boolean): string {
  const refs: Record<Setting['refs'], string> = {
    hanging: '.r{padding-left:1.6em;text-indent:-1.6em}',
    numbered: '.r{padding-left:2.2em;text-indent:-2.2em}',
    apart: '.r{margin-bottom:.9em}',
    'set in': '.r{text-indent:1.4em}',
  }
  const sup = (t: string) => signed(esc(t), c => `<sup>${c}</sup>`)
  const note = (n: string | undefined) => (n && hasNotes ? `<span class="fn">${esc(n)}</span>` : '')
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${esc(k.title)}</title><style>
@page{size:A4;margin:24mm ${k.beside ? 44 : 19}mm 22mm 19mm;@top-left{content:"${k.head.replace(/"/g, '')}";font:italic 8.5pt serif}@top-right{content:counter(page);font:8.5pt serif}}
html{font:10pt/1.3 serif;hyphens:auto;text-align:justify;counter-reset:page ${k.first - 1}}
h1{font-size:18pt;line-height:1.2;text-align:left}h2{font-size:11.5pt;margin:.9em 0 .3em;break-after:avoid}
p{margin:0}p+p{text-indent:1.2em}.b{columns:${s.columns};column-gap:16pt}.a{font-style:italic;margin:1em 0}.r{font-size:8.8pt;text-indent:0;margin:0}
.c{break-after:page}.c3{font-size:8.5pt;margin:4pt 0 10pt;text-indent:0;text-align:left}.m{float:right;clear:right;width:28mm;margin-right:-33mm;font-size:8pt;text-align:left;text-indent:0}.fn{float:footnote;font-size:8pt;text-align:left}${refs[s.refs]}</style>
${k.cover ? `<div class="c">${k.cover.map(l => `<p>${esc(l)}</p>`).join('')}</div>` : ''}${(k.over ?? []).map(l => `<p>${esc(l)}</p>`).join('')}
<h1>${esc(k.title)}</h1><p>${sup(k.authors)}</p>${places(k)
    .map(p => `<p style="text-indent:0">${sup(p)}</p>`)
    .join('')}<p class="a">${esc(k.abstract)}</p><div class="b">
${k.sections.map((x, i) => `${x.heading ? `<h2>${esc(x.heading)}</h2>` : ''}${x.paragraphs.map((p, j) => `<p>${j === 0 && k.beside ? `<span class="m">${esc(k.beside[i]!)}</span>` : ''}${esc(p)}${j === 1 ? note(k.notes[i]) : ''}</p>${j === 2 && k.captions ? `<div class="c3">${esc(k.captions[i]!)}</div>` : ''}`).join('\n')}`).join('\n')}
${k.refs.length ? `<h2>${k.refsHeading}</h2>` : ''}${k.refs.map(r => `<div class="r">${esc(r.text)}</div>`).join('\n')}</div>`
}

function roff(k: Known, s: Setting): string {
  const t = (x: string) =>
    x
      .replace(/[^\u0020-\u00ff\u2010-\u2025]/gu, c => c.normalize('NFD')[0]!)
      .replace(/\\/g, '\\e')
      .replace(/^([.'])/, '\\&$1')
      .replace(/\u2013/g, '\\[en]')
  const sup = (x: string) => signed(t(x), c => `\\*{${c}\\*}`)
  const columns = { 1: '', 2: '.2C', 3: '.MC 1.9i 0.2i' }[s.columns]
  return `.nr LL 6.5i
.nr PO 1i
.nr FL \\n[LL]
.ds LH ${t(k.head)}
.ds CH
.ds RH %
.ds CF
.pn ${k.first}
.nr PS 10
.nr VS 12
${
  k.cover || k.over
    ? // nothing may stand before a title that is called one
      `${k.cover ? `${k.cover.map(l => `.LP\n${t(l)}`).join('\n')}\n.bp\n` : ''}${(k.over ?? []).map(l => `.LP\n${t(l)}`).join('\n')}
.LP
.ps 15
.vs 18
.B "${t(k.title).replace(/"/g, '""')}"
.LP
${t(k.authors)}`
    : `.TL\n${t(k.title)}\n.AU\n${sup(k.authors)}${k.places ? `\n.AI\n${places(k).map(sup).join('\n.br\n')}` : ''}`
}
${k.abstract && !k.cover && !k.over ? `.AB no\n${t(k.abstract)}\n.AE` : `.LP\n${t(k.abstract)}`}
${columns}
${k.sections
  .map(
    (x, i) =>
      `${x.heading ? `.SH\n${t(x.heading)}\n` : ''}${x.paragraphs.map((p, j) => `.PP\n${t(p)}${j === 1 && k.notes[i] ? `\\**\n.FS\n${t(k.notes[i]!)}\n.FE` : ''}${j === 2 && k.captions ? `\n.KS\n.sp 1\n.ps 8.5\n.vs 10\n${t(k.captions[i]!)}\n.br\n.ps\n.vs\n.sp 1\n.KE` : ''}`).join('\n')}`,
  )
  .join('\n')}
${k.refs.length ? `.SH\n${k.refsHeading}` : ''}
.nr PS 9
${k.refs.map(r => `${s.refs === 'set in' ? '.PP' : s.refs === 'apart' ? '.LP' : '.XP'}\n${t(r.text)}`).join('\n')}
`
}

function tex(k: Known, s: Setting): string {
  const t = (x: string) =>
    x
      .replace(/[\\{}]/g, '')
      .replace(/([&%$#_])/g, '\\$1')
      .replace(/~/g, '\\textasciitilde{}')
      .replace(/\^/g, '')
  const sup = (x: string) => signed(t(x), c => `$^{${c}}$`)
  const three = s.columns === 3
  const list: Record<Setting['refs'], string> = {
    hanging: '\\leftmargin=1.5em\\itemindent=-1.5em\\itemsep=0pt\\parsep=0pt\\labelwidth=0pt\\labelsep=0pt',
    numbered: '\\leftmargin=2em\\labelwidth=1.6em\\labelsep=.4em\\itemsep=1pt\\parsep=0pt',
    apart: '\\leftmargin=0pt\\itemindent=0pt\\labelwidth=0pt\\labelsep=0pt\\itemsep=6pt\\parsep=0pt',
    'set in': '\\leftmargin=0pt\\itemindent=1.4em\\labelwidth=0pt\\labelsep=0pt\\itemsep=0pt\\parsep=0pt',
  }
  const item = (text: string) => {
    const label = s.refs === 'numbered' ? /^(\[\d+\]|\d+\.) ?/.exec(text) : null
    return `\\item[${label ? `{${label[1]!}}` : ''}] ${t(label ? text.slice(label[0].length) : text)}`
  }
  return `\\documentclass[10pt,a4paper${s.columns === 2 ? ',twocolumn' : ''}]{article}
\\usepackage[utf8]{inputenc}${s.refs === 'hanging' ? '' : '\\usepackage[T1]{fontenc}'}\\usepackage{fancyhdr}\\usepackage{multicol}\\usepackage[english]{babel}
\\pagestyle{fancy}\\fancyhf{}\\fancyhead[L]{\\small\\itshape ${t(k.head)}}\\fancyhead[R]{\\thepage}\\setcounter{page}{${k.first}}
\\emergencystretch=2em
\\begin{document}
${k.cover ? `${k.cover.map(t).join('\\par ')}\\newpage\\setcounter{page}{${k.first}}` : ''}${(k.over ?? []).map(l => `\\noindent ${t(l)}\\par`).join('\n')}
\\title{${t(k.title)}}\\author{${sup(k.authors)}${places(k)
    .map(p => `\\\\${sup(p)}`)
    .join('')}}\\date{}
${s.columns === 2 ? `\\twocolumn[\\begin{@twocolumnfalse}\\maketitle\\thispagestyle{plain}\\begin{quote}${t(k.abstract)}\\end{quote}\\end{@twocolumnfalse}]` : `\\maketitle\\begin{quote}${t(k.abstract)}\\end{quote}`}
${three ? '\\begin{multicols}{3}\\sloppy' : ''}
${k.sections.map((x, i) => `${x.heading ? `\\section*{${t(x.heading)}}\n` : ''}${x.paragraphs.map((p, j) => `${j === 0 && k.beside ? `\\mbox{}\\marginpar{\\raggedright\\footnotesize ${t(k.beside[i]!)}}` : ''}${t(p)}${j === 1 && k.notes[i] ? `\\footnote{${t(k.notes[i]!)}}` : ''}${j === 2 && k.captions ? `\n\n\\medskip{\\noindent\\footnotesize ${t(k.captions[i]!)}\\par}\\medskip` : ''}`).join('\n\n')}`).join('\n')}
${
  k.refs.length
    ? `\\section*{${k.refsHeading}}
{\\small\\begin{list}{}{${list[s.refs]}}
${k.refs.map(r => item(r.text)).join('\n')}
\\end{list}}`
    : ''
}
${three ? '\\end{multicols}' : ''}
\\end{document}
`
}

async function docx(k: Known, s: Setting): Promise<Buffer> {
  const p = (text: string, size: number, more: object = {}, runs: object[] = []) =>
    new Paragraph({
      alignment: AlignmentType.JUSTIFIED,
      ...more,
      children: [new TextRun({ text, size: size * 2, font: 'FreeSerif' }), ...(runs as TextRun[])],
    })
  const raised = (text: string) =>
    new Paragraph({
      children: text
        .split(/([¹²³])/)
        .map(
          t => new TextRun({ text: t.normalize('NFKC'), superScript: /[¹²³]/.test(t), size: 22, font: 'FreeSerif' }),
        ),
    })
  const em = 200
  const refs: Record<Setting['refs'], object> = {
    hanging: { indent: { left: em * 1.6, hanging: em * 1.6 } },
    numbered: { indent: { left: em * 2, hanging: em * 2 } },
    apart: { spacing: { after: 180 } },
    'set in': { indent: { firstLine: em * 1.5 } },
  }
  const head = new Header({
    children: [
      new Paragraph({
        children: [
          new TextRun({ text: `${k.head}    `, italics: true, size: 17 }),
          new TextRun({ children: [PageNumber.CURRENT], size: 17 }),
        ],
      }),
    ],
  })
  const page = { size: { width: 11906, height: 16838 }, pageNumbers: { start: k.first } }
  const doc = new Document({
    footnotes: Object.fromEntries(k.notes.map((n, i) => [i + 1, { children: [p(n, 8)] }])),
    sections: [
      {
        properties: { page },
        headers: { default: head },
        children: [
          ...(k.cover ?? []).map(l => p(l, 10)),
          ...(k.over ?? []).map((l, i) => p(l, 10, { pageBreakBefore: Boolean(k.cover) && i === 0 })),
          p(k.title, 18, { alignment: AlignmentType.LEFT, pageBreakBefore: Boolean(k.cover) && !k.over }),
          raised(k.authors),
          ...places(k).map(raised),
          p(k.abstract, 10, { spacing: { before: 200, after: 200 } }),
        ],
      },
      {
        properties: { type: SectionType.CONTINUOUS, column: { count: s.columns, space: 340 } },
        headers: { default: head },
        children: [
          ...k.sections.flatMap((x, i) => [
            ...(x.heading
              ? [p(x.heading, 12, { alignment: AlignmentType.LEFT, spacing: { before: 160, after: 60 } })]
              : []),
            ...x.paragraphs.flatMap((t, j) => [
              p(
                t,
                10,
                j ? { indent: { firstLine: em } } : {},
                j === 1 && k.notes[i] ? [new FootnoteReferenceRun(i + 1)] : [],
              ),
              ...(j === 2 && k.captions
                ? [p(k.captions[i]!, 8.5, { alignment: AlignmentType.LEFT, spacing: { before: 120, after: 160 } })]
                : []),
            ]),
          ]),
          ...(k.refs.length ? [p(k.refsHeading, 12, { spacing: { before: 160, after: 60 } })] : []),
          ...k.refs.map(r => p(r.text, 9, { alignment: AlignmentType.LEFT, ...refs[s.refs] })),
        ],
      },
    ],
  })
  return Packer.toBuffer(doc)
}
