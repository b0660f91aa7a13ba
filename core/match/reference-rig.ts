import type { Item } from '../bib/item'

export const lune = { family: 'Lune', given: 'Mara H.' }
const sand = { family: 'Sand', given: 'Ivo' }
const tarn = { family: 'Tarn', given: 'Jon K.' }
export const year = (...p: number[]) => ({ 'date-parts': [p] })

/** References in the manners in which papers of others print them: what the manner is, the line, and what it says. */
export const OTHERS: [manner: string, line: string, says: Partial<Item>][] = [
  [
    'one author as spoken',
    'Mara H. Lune. Lamps: A Guide to Towns. Moorgrave Press, 1994.',
    { author: [lune], title: 'Lamps: A Guide to Towns', issued: year(1994) },
  ],
  [
    'without an initial, the month behind',
    'Ivo Sand. Counting moths with the trap package, February 2007. http://vault.example/trap.',
    { author: [sand], title: 'Counting moths with the trap package', issued: year(2007, 2) },
  ],
  [
    'three as spoken',
    'Mara H. Lune, Ivo Sand, and Jon K. Tarn. On dusk. Night Papers, 25:400–405, 1993.',
    {
      author: [lune, sand, tarn],
      title: 'On dusk',
      'container-title': 'Night Papers',
      volume: '25',
      page: '400-405',
      issued: year(1993),
    },
  ],
  [
    'more than are named',
    'Mara H. Lune et al. On dusk. Night Papers, 25:400–405, 1993.',
    { author: [lune], title: 'On dusk' },
  ],
  [
    'as spoken, the year ahead',
    'Ivo Sand, K. B. Lune, and Jon K. Tarn. 2019. On dusk (CCA)—a new view. Night Papers 39, 5 (Jan. 2019), 17–47.',
    {
      author: [sand, { family: 'Lune', given: 'K. B.' }, tarn],
      issued: year(2019),
      volume: '39',
      issue: '5',
      page: '17-47',
    },
  ],
  [
    'an article by its number',
    'Ivo Sand and Jon K. Tarn. 2007. Deciding at dusk. J. Night 54, 2, Article 5 (April 2007).',
    { 'container-title': 'J. Night', volume: '54', issue: '2', page: '5' },
  ],
  [
    'an editor alone',
    'Ivo Sand (Ed.). 2008. The book of lamps (2nd. ed.). Moorgrave Press, Ostmere.',
    { editor: [sand], title: 'The book of lamps' },
  ],
  [
    'a note with a title',
    'Ivo Sand, Comments on lamps for towns, Moorgrave Press, Ostmere, 2003.',
    { author: [sand], title: 'Comments on lamps for towns', issued: year(2003) },
  ],
  [
    'a day in brackets',
    'Lune, M. and J. Tarn (June 17, 2007). An essential guide to lamps. Moorgrave Press.',
    { title: 'An essential guide to lamps', issued: year(2007, 6, 17) },
  ],
  [
    'a day ahead',
    'Lune, M., 5 July 2004. A list of lamps. Night-link.',
    { title: 'A list of lamps', issued: year(2004, 7, 5) },
  ],
  [
    'no title',
    'M. Lune, I. Sand, and J. Tarn, Night Letters B 57, 9663 (1998).',
    { 'container-title': 'Night Letters B', volume: '57', page: '9663', issued: year(1998) },
  ],
  [
    'no title, the year ahead',
    'Lune-Holder A., Sand A., Phys. Lamps B, 1989, 39, 207–214, doi:10.5555/pl.39',
    { 'container-title': 'Phys. Lamps B', volume: '39', page: '207-214', issued: year(1989), DOI: '10.5555/pl.39' },
  ],
  [
    'a press in brackets',
    'M. Lune and I. Sand, Absorption of light by wings (Moorgrave Ostmere, 1983).',
    { title: 'Absorption of light by wings', issued: year(1983) },
  ],
  [
    'commas throughout',
    'Lune, M., Lamps: A Way to Count, Ostmere-Moorgrave, 2nd edn., 1994.',
    { title: 'Lamps: A Way to Count', issued: year(1994) },
  ],
  [
    'a press that is only a name',
    'M. Lune y I. Sand, Los faros, una guía, Aula de Faros, Korrin, 2000.',
    { title: 'Los faros, una guía', issued: year(2000) },
  ],
  [
    'a journal behind commas',
    'M. Lune, Mathematics of lamps, Bull. Ostmere Math. Soc. (N.S.) 1 (1979), 337–372.',
    { title: 'Mathematics of lamps', volume: '1', page: '337-372' },
  ],
  [
    'a thesis behind commas',
    'M. Lune, Paths through lamps, Ph.D. thesis, Halverane Univ., Dept. of Lamps, Korrin, July 1987.',
    { title: 'Paths through lamps', issued: year(1987, 7) },
  ],
  [
    'volume and number as one figure',
    'Lune, M. (Dec. 2000). “Time flies”. In: Night Papers 24.4, pp. 665–694.',
    { 'container-title': 'Night Papers', volume: '24', issue: '4', page: '665-694', issued: year(2000, 12) },
  ],
  [
    'in capitals, with a press',
    'LUNE, Mara et al. Chess at dusk. Night Papers, Moorgrave, v. 60, n. 2, p. 1280–1286, 2012. Citado 2 vezes nas páginas 25 e 29.',
    { 'container-title': 'Night Papers', volume: '60', page: '1280-1286', issued: year(2012) },
  ],
  [
    'a body in capitals',
    'OFFICE DE LUZ DE KORRIN. Numeração das lâmpadas. Korrin, 2012. Disponível em: <http://vault.example/n>. Acesso em: 17 fev. 2013.',
    { author: [{ literal: 'OFFICE DE LUZ DE KORRIN' }], title: 'Numeração das lâmpadas', issued: year(2012) },
  ],
  [
    'a body before a quotation',
    'LUX Medialab. ‘The lamp class: styles for towns’ (1999). url: lamps.example.',
    { author: [{ literal: 'LUX Medialab' }], title: 'The lamp class: styles for towns', issued: year(1999) },
  ],
  [
    'visited',
    'Ivo Sand. Zwölf Lampen. 12. Okt. 2021. url: http://vault.example/x.pdf (besucht am 12. 10. 2022).',
    { title: 'Zwölf Lampen', issued: year(2021, 10, 12) },
  ],
  [
    'cited on a page',
    'M. Lune. Moths by Night. Moorgrave Press, 1992 (cit. on p. 9).',
    { title: 'Moths by Night', issued: year(1992) },
  ],
  [
    'an edition behind a single letter',
    'Lune WN, Sand BD (2002). Modern Lamps with S. 4th edition. Moorgrave, Korrin.',
    { title: 'Modern Lamps with S', edition: '4' },
  ],
  [
    'editors behind the title of their book',
    'Ivo Sand. 1990. Asking lamps. In Lectures on Lit Systems, Sape Tarn (Ed.). Moorgrave Press, Korrin, 19–33.',
    { title: 'Asking lamps', 'container-title': 'Lectures on Lit Systems', page: '19-33' },
  ],
  [
    'a question before a short journal',
    'Ivo Sand. 2007. Buy, sell, or lend? Commun. Lamps 50, 1 (Jan. 2007), 36–44.',
    { title: 'Buy, sell, or lend?', 'container-title': 'Commun. Lamps', volume: '50', page: '36-44' },
  ],
  [
    'signs of full width',
    '［2］ LUNE I A，SAND C D，TARN III I D. Large lamps for towns ［J］. Night Papers，2003，8（2）：299-307.',
    {
      author: [
        { family: 'LUNE', given: 'I. A.' },
        { family: 'SAND', given: 'C. D.' },
        { family: 'TARN', given: 'I. D.' },
      ],
      title: 'Large lamps for towns',
      type: 'article-journal',
      volume: '8',
      issue: '2',
      page: '299-307',
      issued: year(2003),
    },
  ],
  [
    'in Chinese',
    '［1］ 灯春珍，蛾再华，等. 城市路灯与飞蛾研究 ［J］. 夜间学报，2010，27（6）：768-771.',
    {
      author: [
        { family: '灯', given: '春珍' },
        { family: '蛾', given: '再华' },
      ],
      title: '城市路灯与飞蛾研究',
      'container-title': '夜间学报',
      volume: '27',
      page: '768-771',
      issued: year(2010),
    },
  ],
  [
    'a paper by its mark',
    'LUNE B A, SAND I. A new lamp [C] // Meeting on Lamp Systems, Korrin, 2004: 745-750.',
    { title: 'A new lamp', type: 'paper-conference', page: '745-750' },
  ],
]
