import { page, type Chain } from './chain'

const title = '<h1>Moths at the edge of light: flight paths between lamps and gardens</h1>'

/** What stands between a reader and a text, and has to be called by its name. */
export const hindrances: Chain[] = [
  {
    name: 'terms that ask for a yes',
    start: 'https://lantern.example/a/611',
    pages: {
      'https://lantern.example/a/611': { status: 302, to: '/terms?then=%2Fa%2F611' },
      'https://lantern.example/terms?then=%2Fa%2F611': page(
        'Terms of use',
        '<h1>Before you read on</h1><p>For your own study only.</p><form method="post" action="/terms"><input type="hidden" name="then" value="/a/611"><button name="accept" value="yes">I accept</button><button name="accept" value="no">I do not accept</button></form>',
      ),
    },
    ends: { ended: 'terms', on: 'https://lantern.example/terms?then=%2Fa%2F611' },
  },
  {
    name: 'terms that the student accepted',
    start: 'https://lantern.example/a/611',
    accepted: ['lantern.example'],
    pages: {
      'https://lantern.example/a/611': { status: 302, to: '/terms?then=%2Fa%2F611' },
      'https://lantern.example/terms?then=%2Fa%2F611': page(
        'Terms of use',
        '<p>For your own study only.</p><form method="post" action="/terms"><input type="hidden" name="then" value="/a/611"><button name="accept" value="yes">I accept</button><button name="accept" value="no">I do not accept</button></form>',
      ),
      'POST https://lantern.example/terms then=%2Fa%2F611&accept=yes': { status: 303, to: '/a/611.pdf' },
      'https://lantern.example/a/611.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://lantern.example/a/611.pdf' },
  },
  {
    name: 'terms before the file, that lead back to it',
    start: 'https://lantern2.example/a/611',
    accepted: ['lantern2.example'],
    pages: {
      'https://lantern2.example/a/611': page('Moths', `${title}<a href="/a/611.pdf">PDF</a>`),
      'https://lantern2.example/a/611.pdf': { status: 302, to: '/terms', then: { pdf: 'right' } },
      'https://lantern2.example/terms': page(
        'Terms of use',
        '<p>For your own study only.</p><form method="post"><button name="yes" value="1">I agree</button></form>',
      ),
      'POST https://lantern2.example/terms yes=1': { status: 302, to: '/a/611.pdf' },
    },
    ends: { text: 'https://lantern2.example/a/611.pdf' },
  },
  {
    name: 'terms that are asked for without end',
    start: 'https://lantern3.example/a/611',
    accepted: ['lantern3.example'],
    pages: {
      'https://lantern3.example/a/611': page(
        'Terms of use',
        '<p>For your own study only.</p><form method="post"><button name="yes" value="1">I agree</button></form>',
      ),
      'POST https://lantern3.example/a/611 yes=1': { status: 302, to: '/a/611' },
    },
    ends: { ended: 'by hand', on: 'https://lantern3.example/a/611' },
  },
  {
    name: 'German terms with a box to tick, by an address',
    start: 'https://laterne.example/611',
    accepted: ['laterne.example'],
    pages: {
      'https://laterne.example/611': page(
        'Nutzungsbedingungen',
        '<h1>Nutzungsbedingungen</h1><p>Nur für das eigene Studium.</p><form action="/611/text"><label><input type="checkbox" name="ok" value="1"> Ich stimme den Nutzungsbedingungen zu</label><input type="submit" value="Weiter"></form>',
      ),
      'https://laterne.example/611/text?ok=1': { pdf: 'right' },
    },
    ends: { text: 'https://laterne.example/611/text?ok=1' },
  },
  {
    name: 'a banner on cookies is no page of terms',
    start: 'https://crumb.example/611',
    pages: {
      'https://crumb.example/611': page(
        'Moths',
        `<div role="dialog"><p>We use cookies. Read our terms and conditions.</p><form method="post" action="/consent"><button>Accept all</button><button>Reject</button></form></div>${title}<p>Abstract. Lamps draw moths into gardens, and hold them there.</p><a href="/611.pdf">Full article (PDF)</a>`,
      ),
      'https://crumb.example/611.pdf': { pdf: 'right' },
    },
    ends: { text: 'https://crumb.example/611.pdf' },
  },
  {
    name: 'a form to sign in',
    start: 'https://wall.example/611',
    pages: {
      'https://wall.example/611': { status: 302, to: 'https://wall.example/login?return=611' },
      'https://wall.example/login?return=611': page(
        'Log in',
        '<form method="post"><input name="user"><input name="pw" type="password"><button>Log in</button></form>',
      ),
    },
    ends: { ended: 'sign in', on: 'https://wall.example/login?return=611' },
  },
  {
    name: 'a sign-in in the corner of an article that is open',
    start: 'https://corner.example/611',
    pages: {
      'https://corner.example/611': page(
        'Moths',
        `<header><form action="/login"><input name="u"><input type="password" name="p"><button>Sign in</button></form></header>${title}<a href="/611/pdf">Download PDF</a>`,
      ),
      'https://corner.example/611/pdf': { pdf: 'right' },
    },
    ends: { text: 'https://corner.example/611/pdf' },
  },
  {
    name: 'one asks which institution one is from',
    start: 'https://where.example/611',
    pages: {
      'https://where.example/611': page(
        'Access through your institution',
        `${title}<p>Choose your institution to sign in.</p><form action="/wayf"><input type="search" name="q" placeholder="Search for your institution"><button>Go</button></form>`,
      ),
    },
    ends: { ended: 'sign in', on: 'https://where.example/611' },
  },
  {
    name: 'a session that is over, said with 200',
    start: 'https://stale.example/611',
    pages: {
      'https://stale.example/611': page('Session expired', '<p>Your session has expired. Please start again.</p>'),
    },
    ends: { ended: 'session over', on: 'https://stale.example/611' },
  },
  {
    name: 'a session that is over, in French',
    start: 'https://rassis.example/611',
    pages: {
      'https://rassis.example/611': page(
        'Erreur',
        '<p>Votre session a expiré. Veuillez vous reconnecter.</p><a href="/">Accueil</a>',
      ),
    },
    ends: { ended: 'session over', on: 'https://rassis.example/611' },
  },
  {
    name: 'too many, with a status',
    start: 'https://busy.example/611.pdf',
    pages: {
      'https://busy.example/611.pdf': { status: 429, headers: { 'retry-after': '3600' }, html: '<p>Slow down.</p>' },
    },
    ends: { ended: 'later' },
  },
  {
    name: 'too many, said with 200',
    start: 'https://busy2.example/611.pdf',
    pages: {
      'https://busy2.example/611.pdf': page(
        'Download limit reached',
        '<p>You have reached the maximum number of downloads for today.</p>',
      ),
    },
    ends: { ended: 'later' },
  },
  {
    name: 'out of service',
    start: 'https://down.example/611',
    pages: { 'https://down.example/611': { status: 503, html: '<h1>Maintenance</h1>' } },
    ends: { ended: 'later' },
  },
  {
    name: 'a challenge',
    start: 'https://guard.example/611',
    pages: {
      'https://guard.example/611': {
        ...page(
          'Just a moment',
          '<h1>Checking that you are human</h1><p>Enable JavaScript and cookies to continue.</p><form id="challenge-form" method="post"><input type="hidden" name="md" value="x"></form>',
        ),
        status: 403,
      },
    },
    ends: { ended: 'challenge', on: 'https://guard.example/611' },
  },
  {
    name: 'letters to be read from a picture',
    start: 'https://guard2.example/611',
    pages: {
      'https://guard2.example/611': page(
        'Security check',
        '<p>Please type the characters you see in the image to continue.</p><img src="/c.png"><form><input name="captcha"><button>Continue</button></form>',
      ),
    },
    ends: { ended: 'challenge', on: 'https://guard2.example/611' },
  },
  {
    name: 'under embargo, with a day',
    start: 'https://later.example/611',
    pages: {
      'https://later.example/611': page('Repository', `${title}<p>This file is under embargo until 3 March 2027.</p>`),
    },
    ends: { ended: 'embargo' },
  },
  {
    name: 'under embargo, in German, by digits',
    start: 'https://spaeter.example/611',
    pages: {
      'https://spaeter.example/611': page(
        'Archiv',
        `${title}<p>Datei gesperrt bis 03.03.2027 (Embargo)</p><a href="/kontakt">Kontakt</a>`,
      ),
    },
    ends: { ended: 'embargo' },
  },
  {
    name: 'to be bought',
    start: 'https://shop.example/611',
    pages: {
      'https://shop.example/611': page(
        'Moths',
        `${title}<p>Abstract. Lamps draw moths.</p><div class="paywall"><h2>Get access to the full version of this article</h2><a href="/cart?add=611">Buy article PDF $39.95</a><a href="/rent">Rent for 48 hours</a></div>`,
      ),
      'https://shop.example/cart?add=611': page('Cart', '<p>1 item</p>'),
    },
    ends: { ended: 'not paid', on: 'https://shop.example/611' },
  },
  {
    name: 'no right to it, said with 403',
    start: 'https://shop2.example/611.pdf',
    pages: {
      'https://shop2.example/611.pdf': {
        ...page('Access denied', '<p>Your institution does not have a subscription to this content.</p>'),
        status: 403,
      },
    },
    ends: { ended: 'not paid' },
  },
  {
    name: 'gone',
    start: 'https://gone.example/611',
    pages: { 'https://gone.example/611': { status: 404, html: '<h1>Not found</h1>' } },
    ends: { ended: 'gone' },
  },
  {
    name: 'gone, said with 200',
    start: 'https://gone2.example/611',
    pages: {
      'https://gone2.example/611': page(
        'Page not found',
        '<h1>Sorry, the page you are looking for could not be found</h1><a href="/">Home</a><a href="/sitemap.pdf">Site map (PDF)</a>',
      ),
      'https://gone2.example/sitemap.pdf': { pdf: 'wrong' },
    },
    ends: { ended: 'gone' },
  },
  {
    name: 'it leads to another article',
    start: 'https://mix.example/611',
    pages: {
      'https://mix.example/611': page(
        'Lamps',
        '<h1>Lamps of the harbour</h1><a href="/590.pdf">PDF</a>',
        '<meta name="citation_title" content="Lamps of the harbour"><meta name="citation_doi" content="10.5555/wml.2021.0590"><meta name="citation_pdf_url" content="https://mix.example/590.pdf">',
      ),
      'https://mix.example/590.pdf': { pdf: 'wrong' },
    },
    ends: { ended: 'wrong file', on: 'https://mix.example/611' },
  },
  {
    name: 'the file is the neighbour',
    start: 'https://mix2.example/611',
    pages: {
      'https://mix2.example/611': page('Moths', `${title}<a href="/611.pdf">PDF</a>`),
      'https://mix2.example/611.pdf': { pdf: 'wrong' },
    },
    ends: { ended: 'wrong file' },
  },
  {
    name: 'a loop',
    start: 'https://loop.example/a',
    pages: {
      'https://loop.example/a': { status: 302, to: '/b' },
      'https://loop.example/b': { status: 302, to: '/a' },
    },
    ends: { ended: 'lost' },
  },
  {
    name: 'pages without an end',
    start: 'https://endless.example/1',
    pages: Object.fromEntries(
      Array.from({ length: 60 }, (_, i) => [
        `https://endless.example/${i + 1}`,
        page('Wexmoor Moth Letters', `<a href="/${i + 2}">Full text</a>`),
      ]),
    ),
    ends: { ended: 'lost' },
  },
  {
    name: 'a page that wants a program',
    start: 'https://app.example/611',
    pages: {
      'https://app.example/611': page(
        'App',
        '<noscript>You need to enable JavaScript to run this app.</noscript><div id="root"></div><script src="/app.js"></script>',
      ),
    },
    ends: { ended: 'by hand', on: 'https://app.example/611' },
  },
  {
    name: 'a text in another form alone',
    start: 'https://epub.example/611',
    pages: {
      'https://epub.example/611': page('Moths', `${title}<a href="/611.epub">EPUB</a> <a href="/611.xml">XML</a>`),
      'https://epub.example/611.epub': { text: 'PK' },
    },
    ends: { ended: 'by hand', on: 'https://epub.example/611' },
  },
  {
    name: 'a link that nothing answers to',
    start: 'https://deadend.example/611',
    pages: { 'https://deadend.example/611': page('Moths', `${title}<a href="/f.pdf">PDF</a>`) },
    ends: { ended: 'gone' },
  },
  {
    name: 'a host that may not be fetched',
    start: 'https://door.example/611',
    pages: {
      'https://door.example/611': page('Moths', `${title}<a href="https://elsewhere.invalid/611.pdf">PDF</a>`),
    },
    ends: { ended: 'by hand', on: 'https://elsewhere.invalid/611.pdf' },
  },
  {
    name: 'the library gives a menu of platforms',
    start: 'https://resolver.example/openurl?rft.atitle=Moths',
    pages: {
      'https://resolver.example/openurl?rft.atitle=Moths': page(
        'Full text',
        '<h1>Moths at the edge of light</h1><ul><li><a href="https://shop2.example/611.pdf">Shop Two</a> Full text from 2022</li><li><a href="https://stacks.example/611">Stacks</a> Full text from 1998</li></ul>',
      ),
      'https://shop2.example/611.pdf': {
        ...page('Access denied', '<p>You do not have access.</p>'),
        status: 403,
      },
      'https://stacks.example/611': page('Stacks', `${title}<a href="/611/pdf">View PDF</a>`),
      'https://stacks.example/611/pdf': { pdf: 'right' },
    },
    ends: { text: 'https://stacks.example/611/pdf' },
  },
  {
    name: 'a sign-in behind the link to the text',
    start: 'https://behind.example/611',
    pages: {
      'https://behind.example/611': page('Moths', `${title}<a href="/611/full.pdf">Full article (PDF)</a>`),
      'https://behind.example/611/full.pdf': { status: 302, to: '/members' },
      'https://behind.example/members': page(
        'Members',
        '<h1>Members only</h1><form method="post"><label>E-mail <input name="e"></label><label>Password <input type="password" name="p"></label></form>',
      ),
    },
    ends: { ended: 'sign in', on: 'https://behind.example/members' },
  },
]
