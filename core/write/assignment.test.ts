import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readAssignment } from './assignment'

const TODAY = '2026-10-05'
const read = (text: string) => Object.assign({}, ...readAssignment(text, TODAY).rules.map(r => r.sets)) as object

describe('the text of an assignment', () => {
  test.each<[string, object]>([
    [
      'Ten sources, at least seven peer-reviewed, five since 2018, 150 words each.',
      { entriesWanted: 10, refereedAtLeast: 7, recentAtLeast: 5, recentYears: 8, wordsFrom: 135, wordsTo: 165 },
    ],
    [
      'Prepare an annotated bibliography of 8–10 entries. All of them must be peer reviewed. Annotations: between 120 and 180 words. Use APA style (7th edition).',
      { entriesWanted: 8, refereedAtLeast: 8, wordsFrom: 120, wordsTo: 180, style: 'apa' },
    ],
    [
      'Your bibliography should include a minimum of twelve (12) references, of which at least half should be refereed.',
      { entriesWanted: 12, refereedAtLeast: 6 },
    ],
    [
      'Find at least six scholarly articles published within the last ten years and no more than two books.',
      { entriesWanted: 6, recentAtLeast: 6, recentYears: 10, booksAtMost: 2 },
    ],
    [
      'Twelve sources, at least two for each theme, and no more than three from the same journal.',
      { entriesWanted: 12, perStrand: 2, journalAtMost: 3 },
    ],
    [
      'Ten sources, including at least two primary sources and no more than three books.',
      { entriesWanted: 10, primaryAtLeast: 2, booksAtMost: 3 },
    ],
    ['Three of the 12 entries must be original documents.', { primaryAtLeast: 3 }],
    [
      'Include 3 articles per sub-topic. At most 4 articles may come from any one periodical.',
      { perStrand: 3, journalAtMost: 4 },
    ],
    [
      '• 15 sources\n• At most three chapters\n• Sources must be in English or German\n• No newspapers, magazines or book reviews\n• Nothing older than 20 years',
      {
        ...{ entriesWanted: 15, booksAtMost: 3, languages: ['en', 'de'], notBefore: 2006 },
        kindsOut: ['news', 'magazine', 'review of a book'],
      },
    ],
    [
      'Hand in by 29 October. Each annotation is no longer than 200 words. Cite in MLA.',
      { due: '2026-10-29', wordsTo: 200, wordsFrom: null, style: 'modern-language-association' },
    ],
    [
      'Due: Friday, December 4th, 2026, 5 pm (10% of the mark). Write 100-150 words for each of your five sources.',
      { due: '2026-12-04', wordsFrom: 100, wordsTo: 150, entriesWanted: 5 },
    ],
    [
      'In week 6 you hand in 2 pages. Eight peer-reviewed articles published after 2015 are required.',
      { entriesWanted: 8, refereedAtLeast: 8, recentAtLeast: 8, recentYears: 10 },
    ],
    [
      'Each annotation should summarize the main argument, assess its reliability and explain how it fits your own topic.',
      { parts: ['summary', 'judgement', 'use'] },
    ],
    [
      'For each source, write an annotation that does three things:\n1. Summarise the work.\n2. Evaluate the strengths and weaknesses of its methods.\n3. Compare it to other sources in your list.\nDescribe your search in one page.',
      { parts: ['summary', 'judgement', 'relation'] },
    ],
    ['Annotations must be in your own words. We will assess your work in December.', {}],
    ['Only English-language publications from 2000 onwards.', { languages: ['en'], notBefore: 2000 }],
    ['Each entry needs an annotation of at least 100 words.', { wordsFrom: 100, wordsTo: null }],
    ['A reflection of 500 words follows, and the essay of 2,000 words in December.', {}],
    ['References must follow Harvard.', { style: 'harvard-cite-them-right' }],
    ['She taught at Harvard and lives in Chicago.', {}],
    ['Use Chicago style with footnotes.', {}],
    ['Sources must not be older than five years.', { notBefore: 2021 }],
    ['At least 4 of these must have been published in the past decade.', { recentAtLeast: 4, recentYears: 10 }],
    ['Submit it on 10/11/2026.', {}],
    [
      'Length: 1,500 words in total. Due date: 13 November 2026, 23:59. You will need to find 12 relevant sources (minimum 8 academic, peer-reviewed journal articles). The remainder may be books or reports. At least six of your sources should have been published in the past five years. For each source provide an annotation of approximately 120 words in APA 7.',
      {
        ...{ due: '2026-11-13', style: 'apa', entriesWanted: 12, refereedAtLeast: 8, recentAtLeast: 6, recentYears: 5 },
        ...{ wordsFrom: 108, wordsTo: 132 },
      },
    ],
    [
      'The bibliography must contain no fewer than 20 items. Do not use sources published before 1990. Newspaper articles are not acceptable.',
      { entriesWanted: 20, notBefore: 1990, kindsOut: ['news'] },
    ],
    [
      'Students must locate ten (10) refereed articles. Submit your work before noon on Monday 2 November.',
      { entriesWanted: 10, refereedAtLeast: 10, due: '2026-11-02' },
    ],
    [
      '1. 15 entries\n2. 3 books maximum\n3. at least 8 published in 2019 or later\n4. annotations: max. 150 words',
      { entriesWanted: 15, booksAtMost: 3, recentAtLeast: 8, recentYears: 7, wordsFrom: null, wordsTo: 150 },
    ],
    [
      'A total of 25 references. Three quarters must be from the last 7 years; 60% are refereed. Avoid theses and preprints.',
      {
        ...{ entriesWanted: 25, recentAtLeast: 19, recentYears: 7, refereedAtLeast: 15 },
        kindsOut: ['thesis', 'preprint'],
      },
    ],
    ['', {}],
  ])('%s', (text, rules) => {
    expect(read(text)).toEqual(rules)
  })

  test('a sentence that only begins a list of parts is read with its items', () => {
    const list =
      'Each annotation should:\n• Summarise the argument\n• Describe the methods used\n• Explain how it fits your topic'
    const { rules, unread } = readAssignment(list, TODAY)
    expect(rules.map(r => r.from)).toEqual([
      'Summarise the argument … Describe the methods used … Explain how it fits your topic',
    ])
    expect(rules[0]!.sets).toEqual({ parts: ['summary', 'method', 'use'] })
    expect(unread).toEqual([])
    expect(readAssignment('Each annotation must:\n• be typed in blue', TODAY).unread).toEqual(['Each annotation must:'])
  })

  test('is told with the words that each rule stands on, in the order of the brief', () => {
    const { rules } = readAssignment('150 to 200 words each.\nTwelve sources in all.', TODAY)
    expect(rules.map(r => [r.said, r.from])).toEqual([
      ['12 entries in all', 'Twelve sources in all.'],
      ['Annotations of 150 to 200 words', '150 to 200 words each.'],
    ])
  })

  test('names what asks for something and is no rule here', () => {
    const { unread } = readAssignment(
      'Ten sources. You must use at least two secondary sources. The course meets on Mondays. Every student must see a librarian.',
      TODAY,
    )
    expect(unread).toEqual(['You must use at least two secondary sources.', 'Every student must see a librarian.'])
  })

  test('of any letters gives rules that a brief can take, soon', () => {
    const words = fc.constantFrom(
      ...[
        'ten',
        '12',
        '1,000',
        'at least',
        'sources',
        'peer-reviewed',
        'since 2018',
        'last',
        'years',
        'words',
        ',',
        '.',
      ],
      ...[
        'no',
        'books',
        '\n',
        'between',
        'and',
        '–',
        'half',
        'all',
        'English',
        'in',
        'MLA',
        'due',
        'May 7',
        '(12)',
        '🌿',
      ],
    )
    fc.assert(
      fc.property(fc.array(words, { maxLength: 60 }), list => {
        const { rules } = readAssignment(list.join(' '), TODAY)
        const keys = rules.flatMap(r => Object.keys(r.sets))
        expect(new Set(keys).size).toBe(keys.length)
        for (const { sets } of rules)
          for (const v of Object.values(sets)) if (typeof v === 'number') expect(v >= 0 && v <= 2100).toBe(true)
      }),
    )
  })
})
