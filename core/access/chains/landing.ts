import { page, type Chain } from './chain'

/** Pages of one article, with its text behind a link among many. */
export const landingPages: Chain[] = [
  {
    name: 'the head of the page names the file',
    start: 'https://wexmoor.example/doi/10.5555/wml.2021.0611',
    pages: {
      'https://wexmoor.example/doi/10.5555/wml.2021.0611': page(
        'Moths at the edge of light | Wexmoor',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><a href="/about.pdf">Media kit (PDF)</a>',
        '<meta name="citation_title" content="Moths at the edge of light: flight paths between lamps and gardens"><meta name="citation_doi" content="10.5555/wml.2021.0611"><meta name="citation_pdf_url" content="https://wexmoor.example/content/52/6/611.full.pdf">',
      ),
      'https://wexmoor.example/content/52/6/611.full.pdf': { pdf: 'right' },
      'https://wexmoor.example/about.pdf': { pdf: 'wrong' },
    },
    ends: { text: 'https://wexmoor.example/content/52/6/611.full.pdf' },
  },
  {
    name: 'a link of the answer itself names the file',
    start: 'https://repo.quarrel.example/items/7781',
    pages: {
      'https://repo.quarrel.example/items/7781': {
        ...page('Item 7781', '<h1>Moths at the edge of light</h1><p>1 file</p><div id="app"></div>'),
        headers: {
          link: '<https://repo.quarrel.example/items/7781/meta.json>; rel="describedby"; type="application/json", <https://repo.quarrel.example/bitstreams/aa01/download>; rel="item"; type="application/pdf"',
        },
      },
      'https://repo.quarrel.example/bitstreams/aa01/download': { pdf: 'right' },
    },
    ends: { text: 'https://repo.quarrel.example/bitstreams/aa01/download' },
  },
  {
    name: 'only a button with a picture',
    start: 'https://tern.example/article/view/611',
    pages: {
      'https://tern.example/article/view/611': page(
        'Tern Papers',
        '<nav><a href="/">Home</a><a href="/guide.pdf">Guide for authors</a></nav><main><article><h2>Moths at the edge of light: flight paths between lamps and gardens</h2><p>Ilse Thorne-Abara, Tomas Wexcorro</p><a class="galley" href="/article/view/611/904"><img src="/i/pdf.svg" alt="PDF"></a></article></main>',
      ),
      'https://tern.example/article/view/611/904': page(
        'View of Moths at the edge of light',
        '<header><a href="/article/view/611">Return to article</a> <a href="/article/download/611/904" download>Download</a></header><iframe src="/plugins/viewer/view.html?file=https%3A%2F%2Ftern.example%2Farticle%2Fdownload%2F611%2F904"></iframe>',
      ),
      'https://tern.example/article/download/611/904': { pdf: 'right' },
      'https://tern.example/guide.pdf': { pdf: 'wrong' },
    },
    ends: { text: 'https://tern.example/article/download/611/904' },
  },
  {
    name: 'German, with the supplement before the text',
    start: 'https://nachtflug.example/artikel/2021/6/611',
    pages: {
      'https://nachtflug.example/artikel/2021/6/611': page(
        'Nachtflug',
        '<div class="inhalt"><h1>Moths at the edge of light: flight paths between lamps and gardens</h1><ul><li><a href="/dl/611-anhang.pdf">Anhang (PDF, 2 MB)</a></li><li><a href="/dl/611.pdf">Volltext herunterladen (PDF, 1,1 MB)</a></li><li><a href="/dl/heft6.pdf">Gesamtes Heft (PDF, 48 MB)</a></li></ul></div>',
      ),
      'https://nachtflug.example/dl/611-anhang.pdf': { pdf: 'wrong' },
      'https://nachtflug.example/dl/heft6.pdf': { pdf: 'wrong' },
      'https://nachtflug.example/dl/611.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://nachtflug.example/dl/611.pdf' },
  },
  {
    name: 'French, the file called by a number',
    start: 'https://lampadaire.example/revue/52/article-611',
    pages: {
      'https://lampadaire.example/revue/52/article-611': page(
        'Revue',
        '<h1>Moths at the edge of light</h1><p class="auteurs">Thorne-Abara, Wexcorro</p><p><a href="?id=88213&amp;action=t">Télécharger le texte intégral</a> · <a href="?id=88213&amp;action=c">Exporter la référence</a></p>',
      ),
      'https://lampadaire.example/revue/52/article-611?id=88213&action=t': { pdf: 'right' },
      'https://lampadaire.example/revue/52/article-611?id=88213&action=c': { text: 'TY  - JOUR' },
    },
    ends: { text: 'https://lampadaire.example/revue/52/article-611?id=88213&action=t' },
  },
  {
    name: 'the articles beside it have files too',
    start: 'https://stillwater.example/a/611',
    pages: {
      'https://stillwater.example/a/611': page(
        'Stillwater',
        '<aside><h3>Related</h3><p>Lamps and bats <a href="/a/590/pdf">PDF</a></p><p>Gardens by night <a href="/a/640/pdf">PDF</a></p></aside><main><h1>Moths at the edge of light: flight paths between lamps and gardens</h1><div class="tools"><a href="/a/611/pdf">PDF</a> <a href="/a/611/epub">EPUB</a></div><section><h2>References</h2><ol><li>Aldenbruck. Der Nachtfalter. <a href="https://other.example/1.pdf">PDF</a></li></ol></section></main>',
      ),
      'https://stillwater.example/a/590/pdf': { pdf: 'wrong' },
      'https://stillwater.example/a/640/pdf': { pdf: 'wrong' },
      'https://stillwater.example/a/611/pdf': { pdf: 'right' },
    },
    ends: { text: 'https://stillwater.example/a/611/pdf' },
  },
  {
    name: 'the abstract first, then the text as a page, then the file',
    start: 'https://kettleby.example/abs/2021-611',
    pages: {
      'https://kettleby.example/abs/2021-611': page(
        'Abstract',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><h2>Abstract</h2><p>Lamps draw moths.</p><a href="/full/2021-611">Full text</a>',
      ),
      'https://kettleby.example/full/2021-611': page(
        'Full text',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><h2>Introduction</h2><p>Long ago.</p><p><a href="/print/2021-611.pdf">Printable version</a></p>',
      ),
      'https://kettleby.example/print/2021-611.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://kettleby.example/print/2021-611.pdf' },
  },
  {
    name: 'it sends on by itself after a moment',
    start: 'https://go.example/r/611',
    pages: {
      'https://go.example/r/611': page(
        'One moment',
        '<p>You are being sent on. <a href="https://wexmoor.example/x/611">Go on</a></p>',
        '<meta http-equiv="Refresh" content="2; URL=\'https://wexmoor.example/x/611\'">',
      ),
      'https://wexmoor.example/x/611': page(
        'Moths',
        '<h1>Moths at the edge of light</h1><embed type="application/pdf" src="/x/611/file">',
      ),
      'https://wexmoor.example/x/611/file': { pdf: 'right' },
    },
    ends: { text: 'https://wexmoor.example/x/611/file' },
  },
  {
    name: 'Spanish, versions by language of the text',
    start: 'https://polilla.example/articulo/611',
    pages: {
      'https://polilla.example/articulo/611': page(
        'Polilla',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><p>Texto completo: <a href="/pdf/611/es">PDF (español)</a> <a href="/pdf/611/en">PDF (inglés)</a></p>',
      ),
      'https://polilla.example/pdf/611/es': { pdf: 'wrong' },
      'https://polilla.example/pdf/611/en': { pdf: 'right' },
    },
    ends: { text: 'https://polilla.example/pdf/611/en' },
  },
  {
    name: 'what is named in the head is dead, the link in the page is not',
    start: 'https://amberhall.example/p/611',
    pages: {
      'https://amberhall.example/p/611': page(
        'Amber Hall',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><a href="/files/611v2.pdf">Download PDF</a>',
        '<meta name="citation_pdf_url" content="http://old.amberhall.example/611.pdf">',
      ),
      'https://amberhall.example/files/611v2.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://amberhall.example/files/611v2.pdf' },
  },
  {
    name: 'addresses without a scheme, a base, and spaces',
    start: 'https://harrowfen.example/j/moth/52/6/a9/index.htm',
    pages: {
      'https://harrowfen.example/j/moth/52/6/a9/index.htm': page(
        'Harrowfen',
        '<TABLE><TR><TD><FONT size=4>MOTHS AT THE EDGE OF LIGHT: FLIGHT PATHS BETWEEN LAMPS AND GARDENS</FONT><TR><TD><A HREF=" //files.harrowfen.example/moth 52/a9.PDF ">[PDF 880K]</A></TABLE>',
        '<base href="https://harrowfen.example/j/moth/">',
      ),
      'https://files.harrowfen.example/moth%2052/a9.PDF': { pdf: 'right' },
    },
    ends: { text: 'https://files.harrowfen.example/moth%2052/a9.PDF' },
  },
  {
    name: 'a record of a repository with two versions and a licence',
    start: 'https://hollins.example/handle/1/77',
    pages: {
      'https://hollins.example/handle/1/77': page(
        'Hollins',
        '<main><h1>Moths at the edge of light : flight paths between lamps and gardens</h1><table><tr><th>File</th><th>Size</th></tr><tr><td><a href="/bitstream/1/77/2/license.txt">license.txt</a></td><td>1 kB</td></tr><tr><td><a href="/bitstream/1/77/1/Thorne_accepted.pdf">Thorne_accepted.pdf</a></td><td>900 kB</td></tr></table></main>',
      ),
      'https://hollins.example/bitstream/1/77/2/license.txt': { text: 'licence' },
      'https://hollins.example/bitstream/1/77/1/Thorne_accepted.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://hollins.example/bitstream/1/77/1/Thorne_accepted.pdf' },
  },
  {
    name: 'the file is in a frame of a frame',
    start: 'https://frames.example/611',
    pages: {
      'https://frames.example/611': {
        html: '<html><head><title>Moths at the edge of light</title></head><frameset rows="60,*"><frame src="/top.html"><frame src="/body/611"></frameset></html>',
      },
      'https://frames.example/top.html': page('Top', '<a href="/">Frames</a>'),
      'https://frames.example/body/611': page(
        'Body',
        '<object data="/body/611/data" type="application/pdf">No viewer</object>',
      ),
      'https://frames.example/body/611/data': { pdf: 'right' },
    },
    ends: { text: 'https://frames.example/body/611/data' },
  },
  {
    name: 'a page of many papers of one author',
    start: 'https://people.orrery.example/wexcorro/',
    pages: {
      'https://people.orrery.example/wexcorro/': page(
        'Tomas Wexcorro',
        '<h1>Tomas Wexcorro</h1><ul><li>Wexcorro T. (2019). Lamps and hedges. <a href="p/2019.pdf">pdf</a></li><li>Thorne-Abara I., Wexcorro T. (2021). Moths at the edge of light: flight paths between lamps and gardens. <i>Wexmoor Moth Letters</i> 52. <a href="p/2021a.pdf">pdf</a></li><li>Wexcorro T. (2022). Moths and the edge of towns. <a href="p/2022.pdf">pdf</a></li></ul>',
      ),
      'https://people.orrery.example/wexcorro/p/2019.pdf': { pdf: 'wrong' },
      'https://people.orrery.example/wexcorro/p/2021a.pdf': { pdf: 'right' },
      'https://people.orrery.example/wexcorro/p/2022.pdf': { pdf: 'wrong' },
    },
    ends: { text: 'https://people.orrery.example/wexcorro/p/2021a.pdf' },
  },
  {
    name: 'Japanese, with full-width letters',
    start: 'https://yoru.example/article/52/6/52_611/_article',
    pages: {
      'https://yoru.example/article/52/6/52_611/_article': page(
        '夜蛾',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><a href="/article/52/6/52_611/_pdf">ＰＤＦをダウンロード (1204K)</a><a href="/article/52/6/_contents">巻号一覧</a>',
      ),
      'https://yoru.example/article/52/6/52_611/_pdf': { pdf: 'right' },
    },
    ends: { text: 'https://yoru.example/article/52/6/52_611/_pdf' },
  },
]
