import { page, poorer, type Chain } from './chain'

/** Front pages from which one works down volume, issue and article. */
export const frontPages: Chain[] = [
  {
    name: 'volume, issue, article, each a list',
    start: 'https://quill.example/journal/wml',
    pages: {
      'https://quill.example/journal/wml': page(
        'Wexmoor Moth Letters',
        '<h1>Wexmoor Moth Letters</h1><ul><li><a href="/journal/wml/51">Volume 51</a></li><li><a href="/journal/wml/52">Volume 52</a></li><li><a href="/journal/wml/152">Volume 152</a></li></ul>',
      ),
      'https://quill.example/journal/wml/52': page(
        'Wexmoor Moth Letters, volume 52',
        '<ul><li><a href="/journal/wml/52/5">Issue 5</a></li><li><a href="/journal/wml/52/6">Issue 6</a></li></ul>',
      ),
      'https://quill.example/journal/wml/52/6': page(
        'Wexmoor Moth Letters 52 (6)',
        '<ul><li><a href="/pdf/1.pdf">Moths and lamps, 590-610</a></li><li><a href="/pdf/2.pdf">Moths at the edge of light: flight paths between lamps and gardens, 611-629</a></li></ul>',
      ),
      'https://quill.example/pdf/1.pdf': { pdf: 'wrong' },
      'https://quill.example/pdf/2.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://quill.example/pdf/2.pdf' },
  },
  {
    name: 'an archive by year, then numbers that run through',
    start: 'https://archive.example/',
    pages: {
      'https://archive.example/': page(
        'Wexmoor Moth Letters',
        '<h1>Wexmoor Moth Letters</h1><p>ISSN 9990-4419</p><nav><a href="/board">Board</a> <a href="/all">Past issues</a> <a href="/submit">Submit</a></nav><h2>Newest: Vol. 57</h2><a href="/57/1">No. 1</a>',
      ),
      'https://archive.example/all': page(
        'Past issues',
        '<h3>2022</h3><a href="/y/2022">2022 (6 issues)</a><h3>2021</h3><a href="/y/2021">2021 (6 issues)</a>',
      ),
      'https://archive.example/y/2021': page(
        '2021',
        '<p>Vol. 52</p><a href="/i/301">No. 1, January</a> <a href="/i/305">No. 5, September</a> <a href="/i/306">No. 6, November</a>',
      ),
      'https://archive.example/i/306': page(
        'Vol. 52 No. 6',
        '<div><p>Moths at the edge of light: flight paths between lamps and gardens</p><p>I. Thorne-Abara, T. Wexcorro</p><p>611–629 <a href="/get/3061">View</a> <a href="/get/3061.pdf">PDF</a></p></div><div><p>Corrigendum</p><p><a href="/get/3062.pdf">PDF</a></p></div>',
      ),
      'https://archive.example/get/3061.pdf': { pdf: 'right' },
      'https://archive.example/get/3062.pdf': { pdf: 'wrong' },
      'https://archive.example/57/1': page('Vol. 57 No. 1', '<p>Nothing yet</p>'),
    },
    ends: { text: 'https://archive.example/get/3061.pdf' },
  },
  {
    name: 'German: Jahrgang and Heft',
    start: 'https://falter.example/zeitschrift/wml',
    pages: {
      'https://falter.example/zeitschrift/wml': page(
        'Wexmoor Moth Letters',
        '<a href="/wml/archiv">Archiv</a><a href="/wml/abo">Abonnement</a>',
      ),
      'https://falter.example/wml/archiv': page(
        'Archiv',
        '<ul><li><a href="/wml/j53">53. Jahrgang (2022)</a><li><a href="/wml/j52">52. Jahrgang (2021)</a></ul>',
      ),
      'https://falter.example/wml/j52': page(
        'Jahrgang 52',
        '<a href="/wml/j52/h5">Heft 5</a> <a href="/wml/j52/h6">Heft 6</a>',
      ),
      'https://falter.example/wml/j52/h6': page(
        'Heft 6',
        '<table><tr><td>S. 590–610<td><a href="/wml/a/1">Lampen und Hecken</a><tr><td>S. 611–629<td><a href="/wml/a/2">Moths at the Edge of Light. Flight paths between lamps and gardens</a></table>',
      ),
      'https://falter.example/wml/a/2': page(
        'Moths at the Edge of Light',
        '<h1>Moths at the Edge of Light. Flight paths between lamps and gardens</h1><a href="/wml/a/2/pdf">Artikel als PDF</a>',
      ),
      'https://falter.example/wml/a/2/pdf': { pdf: 'right' },
    },
    ends: { text: 'https://falter.example/wml/a/2/pdf' },
  },
  {
    name: 'all volumes and issues on one page',
    start: 'https://onepage.example/wml',
    pages: {
      'https://onepage.example/wml': page(
        'Wexmoor Moth Letters',
        '<h2>Volume 51 (2020)</h2><p><a href="/t/51-5">Issue 5</a> <a href="/t/51-6">Issue 6</a></p><h2>Volume 52 (2021)</h2><p><a href="/t/52-5">Issue 5</a> <a href="/t/52-6">Issue 6</a></p><h2>Volume 53 (2022)</h2><p><a href="/t/53-6">Issue 6</a></p>',
      ),
      'https://onepage.example/t/51-6': page('Volume 51, issue 6', '<a href="/a/1">Old lamps</a>'),
      'https://onepage.example/t/53-6': page('Volume 53, issue 6', '<a href="/a/9">New lamps</a>'),
      'https://onepage.example/t/52-6': page(
        'Volume 52, issue 6',
        '<h3><a href="/a/5">Moths at the edge of light: flight paths between lamps and gardens</a></h3><p>pp. 611-629</p>',
      ),
      'https://onepage.example/a/5': page(
        'Moths at the edge of light',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><a href="/a/5/text">Read the article</a>',
      ),
      'https://onepage.example/a/5/text': { pdf: 'right' },
    },
    ends: { text: 'https://onepage.example/a/5/text' },
  },
  {
    name: 'the journal is one of a list of journals',
    start: 'https://publisher.example/journals',
    pages: {
      'https://publisher.example/journals': page(
        'Journals A to Z',
        '<a href="/j/wbl">Wexmoor Bird Letters</a><a href="/j/wml">Wexmoor Moth Letters</a><a href="/j/ml">Moth Letters</a>',
      ),
      'https://publisher.example/j/wml': page('Wexmoor Moth Letters', '<a href="/j/wml/v52">Vol. 52 (2021)</a>'),
      'https://publisher.example/j/wml/v52': page('Vol. 52', '<a href="/j/wml/v52/n6">Number 6</a>'),
      'https://publisher.example/j/wml/v52/n6': page(
        'Vol. 52, Number 6',
        '<ol><li>Thorne-Abara and Wexcorro: <a href="/j/wml/v52/n6/611.pdf">Moths at the edge of light</a></li></ol>',
      ),
      'https://publisher.example/j/wml/v52/n6/611.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://publisher.example/j/wml/v52/n6/611.pdf' },
  },
  {
    name: 'articles by their first page alone',
    start: 'https://bare.example/wml/vol52',
    pages: {
      'https://bare.example/wml/vol52': page('WML 52', '<a href="no5.html">5</a> <a href="no6.html">6</a>'),
      'https://bare.example/wml/no6.html': page(
        'WML 52/6',
        '<p>p. 590 <a href="590.pdf">text</a><p>p. 611 <a href="611.pdf">text</a><p>p. 630 <a href="630.pdf">text</a>',
      ),
      'https://bare.example/wml/590.pdf': { pdf: 'wrong' },
      'https://bare.example/wml/611.pdf': { pdf: 'right' },
      'https://bare.example/wml/630.pdf': { pdf: 'wrong' },
    },
    ends: { text: 'https://bare.example/wml/611.pdf' },
  },
  {
    name: 'Portuguese, ahead of the numbers',
    start: 'https://mariposa.example/revista',
    pages: {
      'https://mariposa.example/revista': page('Revista', '<a href="/revista/edicoes">Edições anteriores</a>'),
      'https://mariposa.example/revista/edicoes': page(
        'Edições anteriores',
        '<a href="/revista/e/51">v. 51 n. 6 (2020)</a><a href="/revista/e/52">v. 52 n. 6 (2021)</a><a href="/revista/e/52a">v. 52 n. 5 (2021)</a>',
      ),
      'https://mariposa.example/revista/e/52': page(
        'v. 52 n. 6 (2021)',
        '<div><a href="/revista/a/9">Moths at the edge of light: flight paths between lamps and gardens</a><span>611-629</span><a class="obj" href="/revista/a/9/pdf">PDF (English)</a></div>',
      ),
      'https://mariposa.example/revista/a/9/pdf': { pdf: 'right' },
      'https://mariposa.example/revista/a/9': page(
        'Moths',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><a href="/revista/a/9/pdf">PDF (English)</a>',
      ),
    },
    ends: { text: 'https://mariposa.example/revista/a/9/pdf' },
  },
  {
    name: 'the volume is not there',
    start: 'https://gap.example/wml',
    pages: {
      'https://gap.example/wml': page(
        'Wexmoor Moth Letters',
        '<a href="/wml/1">Volume 1</a><a href="/wml/2">Volume 2</a><a href="/wml/3">Volume 3</a>',
      ),
    },
    ends: { ended: 'lost', on: 'https://gap.example/wml' },
  },
  {
    name: 'the issue does not have it',
    start: 'https://gap2.example/wml/52/6',
    pages: {
      'https://gap2.example/wml/52/6': page(
        'Wexmoor Moth Letters 52 (6)',
        '<a href="/x/1.pdf">Lamps of the harbour, 590-610</a><a href="/x/2.pdf">Moths at the edge of towns, 611-620</a>',
      ),
      'https://gap2.example/x/1.pdf': { pdf: 'wrong' },
      'https://gap2.example/x/2.pdf': { pdf: 'wrong' },
    },
    ends: { ended: 'wrong file' },
  },
  {
    name: 'pages of a list that go on',
    start: 'https://paged.example/wml/2021',
    pages: {
      'https://paged.example/wml/2021': page(
        'Wexmoor Moth Letters 2021',
        '<a href="/w/1">Lamps of the harbour</a><a href="/w/2">Gardens by night</a><div class="pager"><a href="/wml/2021?page=2" rel="next">Next</a></div>',
      ),
      'https://paged.example/wml/2021?page=2': page(
        'Wexmoor Moth Letters 2021',
        '<a href="/w/3">Moths at the edge of light: flight paths between lamps and gardens</a><a href="/wml/2021" rel="prev">Previous</a>',
      ),
      'https://paged.example/w/3': page(
        'Moths at the edge of light',
        '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1><p><a href="/w/3.pdf">Open PDF</a></p>',
      ),
      'https://paged.example/w/3.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://paged.example/w/3.pdf' },
  },
  {
    name: 'Russian, with volume and number',
    start: 'https://nochnoy.example/zhurnal',
    pages: {
      'https://nochnoy.example/zhurnal': page(
        'Журнал',
        '<a href="/arhiv">Архив номеров</a> <a href="/avtoram">Авторам</a>',
      ),
      'https://nochnoy.example/arhiv': page(
        'Архив номеров',
        '<a href="/t/52/5">Том 52, № 5 (2021)</a><a href="/t/52/6">Том 52, № 6 (2021)</a>',
      ),
      'https://nochnoy.example/t/52/6': page(
        'Том 52, № 6',
        '<p>Moths at the edge of light: flight paths between lamps and gardens <a href="/s/77">Скачать PDF</a></p><p>Другая статья <a href="/s/78">Скачать PDF</a></p>',
      ),
      'https://nochnoy.example/s/77': { pdf: 'right' },
      'https://nochnoy.example/s/78': { pdf: 'wrong' },
    },
    ends: { text: 'https://nochnoy.example/s/77' },
  },
  {
    name: 'a chapter of a book',
    start: 'https://books.example/book/44',
    item: {
      id: 'chapter',
      type: 'chapter',
      title: 'The reach of a lantern',
      author: [{ family: 'Ferreira-Lund', given: 'A.' }],
      'container-title': 'Gardens after dusk',
      page: '41-66',
      issued: { 'date-parts': [[2018]] },
    },
    pages: {
      'https://books.example/book/44': page(
        'Gardens after dusk',
        '<h1>Gardens after dusk</h1><ol><li><a href="/book/44/1.pdf">Dusk in the allotment</a> 1</li><li><a href="/book/44/2.pdf">The hedge</a> 21</li><li><a href="/book/44/3.pdf">The reach of a lantern</a> 41</li></ol><a href="/book/44/all.pdf">Front matter</a>',
      ),
      'https://books.example/book/44/1.pdf': { pdf: 'wrong' },
      'https://books.example/book/44/2.pdf': { pdf: 'wrong' },
      'https://books.example/book/44/all.pdf': { pdf: 'wrong' },
      'https://books.example/book/44/3.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://books.example/book/44/3.pdf' },
  },
  {
    name: 'a book that comes by chapter',
    start: 'https://books.example/book/45',
    item: {
      id: 'book',
      type: 'book',
      title: 'Gardens after dusk',
      author: [{ family: 'Ferreira-Lund', given: 'A.' }],
      issued: { 'date-parts': [[2018]] },
      ISBN: '9789990044194',
    },
    pages: {
      'https://books.example/book/45': page(
        'Gardens after dusk',
        '<h1>Gardens after dusk</h1><ol><li><a href="/book/45/1.pdf">Chapter 1: Dusk</a></li><li><a href="/book/45/2.pdf">Chapter 2: The hedge</a></li><li><a href="/book/45/3.pdf">Chapter 3: A lantern</a></li></ol>',
      ),
      'https://books.example/book/45/1.pdf': { pdf: 'wrong' },
      'https://books.example/book/45/2.pdf': { pdf: 'wrong' },
      'https://books.example/book/45/3.pdf': { pdf: 'wrong' },
    },
    ends: { ended: 'by chapter', on: 'https://books.example/book/45' },
  },
  {
    name: 'no issue in the record: the pages decide',
    start: 'https://noissue.example/52',
    item: poorer('issue'),
    pages: {
      'https://noissue.example/52': page(
        'Volume 52',
        '<a href="/52/1">Issue 1 (pp. 1–104)</a><a href="/52/5">Issue 5 (pp. 501–589)</a><a href="/52/6">Issue 6 (pp. 590–702)</a>',
      ),
      'https://noissue.example/52/6': page(
        'Issue 6',
        '<a href="/52/6/b.pdf">Moths at the edge of light: flight paths between lamps and gardens</a>',
      ),
      'https://noissue.example/52/6/b.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://noissue.example/52/6/b.pdf' },
  },
]
