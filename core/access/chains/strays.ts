import { moths, page, poorer, type Chain } from './chain'

const h1 = '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1>'

/** Manners that are rarer, written after the walker was first whole, and walked once before it was touched again. */
export const strays: Chain[] = [
  {
    name: 'a list to choose from in place of links',
    start: 'https://choose.example/wml',
    pages: {
      'https://choose.example/wml': page(
        'Wexmoor Moth Letters',
        '<form action="/issue"><select name="i"><option value="51-6">Volume 51, Issue 6 (2020)</option><option value="52-6">Volume 52, Issue 6 (2021)</option></select><button>Go</button></form>',
      ),
      'https://choose.example/issue?i=52-6': page(
        'Volume 52, Issue 6',
        '<a href="/t.pdf">Moths at the edge of light</a>',
      ),
      'https://choose.example/t.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://choose.example/t.pdf' },
  },
  {
    name: 'addresses as values of the list',
    start: 'https://choose2.example/wml',
    pages: {
      'https://choose2.example/wml': page(
        'Wexmoor Moth Letters',
        '<select onchange="location=this.value"><option value="/v/51">Vol. 51</option><option value="/v/52">Vol. 52</option></select>',
      ),
      'https://choose2.example/v/52': page('Vol. 52', `<h3>No. 6</h3><p><a href="/a">${moths.title!}</a></p>`),
      'https://choose2.example/a': { pdf: 'right' },
    },
    ends: { text: 'https://choose2.example/a' },
  },
  {
    name: 'a button that downloads by a form',
    start: 'https://press.example/611',
    pages: {
      'https://press.example/611': page(
        'Moths',
        `${h1}<form method="get" action="/get"><input type="hidden" name="id" value="611"><input type="submit" value="Download"></form>`,
      ),
      'https://press.example/get?id=611': { pdf: 'right' },
    },
    ends: { text: 'https://press.example/get?id=611' },
  },
  {
    name: 'the size says that it is the file',
    start: 'https://size.example/611',
    pages: {
      'https://size.example/611': page('Moths', `${h1}<p><a href="/d/9">Article (612 KB)</a></p>`),
      'https://size.example/d/9': { pdf: 'right' },
    },
    ends: { text: 'https://size.example/d/9' },
  },
  {
    name: 'years as headings that fold',
    start: 'https://fold.example/archive',
    pages: {
      'https://fold.example/archive': page(
        'Archive',
        '<details><summary><h3>2020</h3></summary><a href="/51/6">6</a></details><details><summary><h3>2021</h3></summary><a href="/52/5">5</a><a href="/52/6">6</a></details>',
      ),
      'https://fold.example/51/6': page('51/6', '<p>Other</p>'),
      'https://fold.example/52/6': page('52/6', `<a href="/52/6/a.pdf">${moths.title!}</a>`),
      'https://fold.example/52/6/a.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://fold.example/52/6/a.pdf' },
  },
  {
    name: 'contents in a table, the pages in cells of their own',
    start: 'https://cells.example/52/6',
    pages: {
      'https://cells.example/52/6': page(
        '52 (6)',
        '<table><tr><td>590</td><td>Lamps of the harbour</td><td><a href="/1">PDF</a></td></tr><tr><td>611</td><td>Moths at the edge of light: flight paths between lamps and gardens</td><td><a href="/2">PDF</a></td></tr><tr><td>630</td><td>Books received</td><td><a href="/3">PDF</a></td></tr></table>',
      ),
      'https://cells.example/1': { pdf: 'wrong' },
      'https://cells.example/2': { pdf: 'right' },
      'https://cells.example/3': { pdf: 'wrong' },
    },
    ends: { text: 'https://cells.example/2' },
  },
  {
    name: 'one has to ask for it by a form',
    start: 'https://ask.example/611',
    pages: {
      'https://ask.example/611': page(
        'Repository',
        `${h1}<p>Restricted. Request a copy from the author.</p><form method="post" action="/request"><label>Name <input name="n"></label><label>E-mail <input name="e"></label><textarea name="m"></textarea><button>Request a copy</button></form>`,
      ),
    },
    ends: { ended: 'by hand', on: 'https://ask.example/611' },
  },
  {
    name: 'Polish, with the whole number before the article',
    start: 'https://cma.example/52/6',
    pages: {
      'https://cma.example/52/6': page(
        'Tom 52, numer 6',
        `<p><a href="/caly.pdf">Pobierz cały numer</a></p><p>${moths.title!}, s. 611-629 <a href="/art.pdf">Pobierz</a></p>`,
      ),
      'https://cma.example/caly.pdf': { pdf: 'wrong' },
      'https://cma.example/art.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://cma.example/art.pdf' },
  },
  {
    name: 'Arabic, from right to left',
    start: 'https://firasha.example/611',
    pages: {
      'https://firasha.example/611': page(
        'فراشة',
        `${h1}<a href="/t/611">تحميل النص الكامل</a> <a href="/c">اتصل بنا</a>`,
      ),
      'https://firasha.example/t/611': { pdf: 'right' },
    },
    ends: { text: 'https://firasha.example/t/611' },
  },
  {
    name: 'Turkish, a link that says only indir',
    start: 'https://guve.example/611',
    pages: {
      'https://guve.example/611': page('Güve', `${h1}<a href="/indir/611">İndir</a>`),
      'https://guve.example/indir/611': { pdf: 'right' },
    },
    ends: { text: 'https://guve.example/indir/611' },
  },
  {
    name: 'the page sends on by a program',
    start: 'https://script.example/611',
    pages: {
      'https://script.example/611': page('', '<script>window.location.replace("/text/611.pdf")</script>'),
    },
    ends: { ended: 'by hand', on: 'https://script.example/611' },
  },
  {
    name: 'a banner of the library above an open article',
    start: 'https://banner.example/611',
    pages: {
      'https://banner.example/611': page(
        'Moths',
        `<div>Access provided by Halverane University. <a href="/login">Log in</a> <a href="/buy">Buy print copy</a></div>${h1}<ul><li><a href="/611/figures">Figures</a></li><li><a href="/611/pdf-file">PDF (1.2 MB)</a></li></ul>`,
      ),
      'https://banner.example/611/pdf-file': { pdf: 'right' },
    },
    ends: { text: 'https://banner.example/611/pdf-file' },
  },
  {
    name: 'cookies have to be on',
    start: 'https://jar.example/611',
    pages: {
      'https://jar.example/611': page(
        'Cookies required',
        '<p>This site needs cookies to be enabled in your browser.</p>',
      ),
    },
    ends: { ended: 'by hand', on: 'https://jar.example/611' },
  },
  {
    name: 'a correction of it stands first',
    start: 'https://corr.example/search?q=moths',
    pages: {
      'https://corr.example/search?q=moths': page(
        '2 results',
        `<div><a href="/c">Correction to: ${moths.title!}</a></div><div><a href="/a">${moths.title!}</a></div>`,
      ),
      'https://corr.example/c': page('Correction', `<h1>Correction to: ${moths.title!}</h1><a href="/c.pdf">PDF</a>`),
      'https://corr.example/c.pdf': { pdf: 'wrong' },
      'https://corr.example/a': page('Moths', `${h1}<a href="/a.pdf">PDF</a>`),
      'https://corr.example/a.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://corr.example/a.pdf' },
  },
  {
    name: 'a subscription is asked for in Spanish',
    start: 'https://pago.example/611',
    pages: {
      'https://pago.example/611': page(
        'Polillas',
        `${h1}<p>Acceso restringido a suscriptores. Comprar artículo: 30 €</p>`,
      ),
    },
    ends: { ended: 'not paid', on: 'https://pago.example/611' },
  },
  {
    name: 'maintenance said with 200',
    start: 'https://works.example/611',
    pages: {
      'https://works.example/611': page(
        'Wartung',
        '<p>Wegen Wartungsarbeiten ist die Seite derzeit nicht erreichbar.</p>',
      ),
    },
    ends: { ended: 'later' },
  },
  {
    name: 'a preprint server with versions',
    start: 'https://early.example/abs/2107.611',
    pages: {
      'https://early.example/abs/2107.611': page(
        'Moths at the edge of light',
        `${h1}<p>Submission history</p><a href="/abs/2107.611v1">v1</a> <a href="/abs/2107.611v2">v2</a><div><a href="/pdf/2107.611v2">Download PDF</a> <a href="/src/2107.611">Source</a></div>`,
      ),
      'https://early.example/pdf/2107.611v2': { pdf: 'right' },
    },
    ends: { text: 'https://early.example/pdf/2107.611v2' },
  },
  {
    name: 'an issue shown as a book to leaf through',
    start: 'https://leaf.example/52/6',
    pages: {
      'https://leaf.example/52/6': page(
        'Issue 6',
        `<p>${moths.title!} <a href="/read?p=611">Read online</a></p><p>Other <a href="/read?p=630">Read online</a></p>`,
      ),
      'https://leaf.example/read?p=611': page(
        'Reader',
        '<div id="pages"></div><script src="/flip.js"></script><noscript>JavaScript is needed to turn the pages.</noscript>',
      ),
    },
    ends: { ended: 'by hand', on: 'https://leaf.example/read?p=611' },
  },
  {
    name: 'an old page with a picture map and capitals',
    start: 'http://old.example/MOTH/V52N6.HTM',
    pages: {
      'http://old.example/MOTH/V52N6.HTM': page(
        'VOL. 52 NO. 6',
        '<DL><DT>LAMPS OF THE HARBOUR<DD><A HREF="A590.PDF">590</A><DT>MOTHS AT THE EDGE OF LIGHT: FLIGHT PATHS BETWEEN LAMPS AND GARDENS<DD><A HREF="A611.PDF">611</A></DL>',
      ),
      'http://old.example/MOTH/A590.PDF': { pdf: 'wrong' },
      'http://old.example/MOTH/A611.PDF': { pdf: 'right' },
    },
    ends: { text: 'http://old.example/MOTH/A611.PDF' },
  },
  {
    name: 'the file asks to sign in with a status',
    start: 'https://s401.example/611.pdf',
    pages: { 'https://s401.example/611.pdf': { ...page('Unauthorized', '<p>401</p>'), status: 401 } },
    ends: { ended: 'sign in', on: 'https://s401.example/611.pdf' },
  },
  {
    name: 'a record without a volume: the volume of its year, its issues one by one',
    start: 'https://guess.example/wml',
    item: poorer('volume', 'issue', 'page', 'DOI'),
    pages: {
      'https://guess.example/wml': page(
        'Wexmoor Moth Letters',
        [50, 51, 52, 53, 57].map(n => `<a href="/v/${n}">Volume ${n}</a>`).join(' '),
      ),
      'https://guess.example/v/51': page('Volume 51', '<a href="/v/51/1">Issue 1</a>'),
      'https://guess.example/v/51/1': page('Volume 51, issue 1', '<p>Other works</p>'),
      'https://guess.example/v/53': page('Volume 53', '<p>Nothing</p>'),
      'https://guess.example/v/52': page('Volume 52', '<a href="/v/52/5">Issue 5</a> <a href="/v/52/6">Issue 6</a>'),
      'https://guess.example/v/52/5': page('Volume 52, issue 5', '<a href="/x.pdf">Lamps of the harbour</a>'),
      'https://guess.example/v/52/6': page('Volume 52, issue 6', `<a href="/y.pdf">${moths.title!}</a>`),
      'https://guess.example/x.pdf': { pdf: 'wrong' },
      'https://guess.example/y.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://guess.example/y.pdf' },
  },
]
