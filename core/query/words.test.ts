import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Clause, Comparison } from './cql'
import { evaluate, type Searchable } from './evaluate'
import { IndexBuilder } from './positional-index'
import { matchSpans } from './spans'
import { literally } from './tokens'

/** Titles as they stand in catalogues of many lands: every one has to be found by what is in it. */
const TITLES = [
  'Moths’ flight: the lamp-keeper’s tale',
  "O'Brien and the moth's wing",
  'O’Brien and the moth‘s other wing',
  'L’éclairage public et l’abeille',
  "Dell'ombra e d'altri lumi",
  'Rock ’n’ roll at the ’90s lantern',
  'Street-lighting in well–lit, half—dark towns',
  'CO₂ and H₂O under 10⁻³ lux',
  'β-carotene and α-/γ-forms in moths',
  'Lamps in C++ and C#, with F♯',
  'T. rex, E. coli & the S. M. A. lamp',
  'The ﬁeld of ﬂight and the eﬀect of oﬃces',
  'Pollin\u00ADators of the in\u00ADner city',
  'Zero\u200Bwidth spaces and join\u200Ders',
  'Ångström, Œuvre, Straße, łódź, Þing, İstanbul',
  'Cafe\u0301s de\u0301cidés: composed and decomposed',
  'Qurʾān, Qur’an and Hawaiʻi',
  'п’ять ламп і пʼять метеликів',
  'Ночные бабочки и свет фонарей',
  'Τα φώτα της πόλης και οι νυχτοπεταλούδες',
  'الفراشات الليلية وأضواء الشوارع',
  'كِتَابُ الضَّوْءِ فِي المَدِينَةِ',
  'عـــلم الأضواء',
  'پروانه‌های شب و نور خیابان',
  'פרפרי לילה ואורות הרחוב',
  'צה״ל, ד״ר ורח׳ הפנסים',
  'ผีเสื้อกลางคืนกับแสงไฟถนน',
  'น้ำและแสง',
  'ຜີເສື້ອກາງຄືນ',
  'មេអំបៅ​ពេល​យប់',
  'ညပိုးဖလံများ',
  '夜蛾と街灯の研究',
  '人工光が昆虫に与える影響',
  '光',
  '城市照明对夜间传粉昆虫的影响',
  'データとﾃﾞｰﾀ、ガとｶﾞ',
  '가로등과 나방의 비행',
  'रात के पतंगे और सड़क की बत्तियाँ',
  'রাতের পতঙ্গ ও রাস্তার আলো',
  'விளக்குகளும் அந்துப்பூச்சிகளும்',
  'col·lecció de llums',
  'What do moths see? (And why*) [a reply]: 100% “quoted” «text»',
  'Lamps^2, moths\\wings and under_scores',
  '2024年のLED街灯',
  'IPv6, 3-D, 1,000 lamps; 3.5 km² at 5 °C',
  '😀 moths and 🏙️ towns',
  '𝐁𝐨𝐥𝐝 𝒎𝒐𝒕𝒉𝒔',
]

const index = (values: readonly string[]): Searchable => {
  const b = new IndexBuilder()
  for (const v of values) b.add({ title: v })
  return { index: b.freeze(), names: { '': ['title'] } }
}
const clause = (relation: Comparison, term: string): Clause => ({ kind: 'clause', relation, modifiers: [], term })
const found = (on: Searchable, relation: Comparison, term: string) => [
  ...evaluate({ root: clause(relation, term) }, on),
]
const all = index(TITLES)

/** Words as the runtime cuts them, which knows nothing of our own cutting; but "CO₂" is one word, as it is typed: CO2. */
const words = (text: string): string[] =>
  [...new Intl.Segmenter('en', { granularity: 'word' }).segment(text)]
    .filter(s => s.isWordLike)
    .filter(s => !/\p{No}$/u.test(text.slice(0, s.index)) && !/^\p{No}/u.test(text.slice(s.index + s.segment.length)))
    .map(s => s.segment)

describe.each(TITLES.map((title, i) => [title, i] as const))('%s', (title, i) => {
  const term = literally(title)
  test('is found by its own words, its own phrase and as a whole', () => {
    for (const relation of ['=', 'all', 'any', 'adj', '=='] as const) expect(found(all, relation, term)).toContain(i)
    expect(found(all, '==', term)).toEqual([i])
  })
  test('is found by each of its words, and marked there', () => {
    const each = words(title)
    expect(each.length).toBeGreaterThan(0)
    for (const word of each) {
      expect([word, found(all, '=', literally(word))]).toEqual([word, expect.arrayContaining([i])])
      expect([word, matchSpans(clause('=', literally(word)), title).length > 0]).toEqual([word, true])
    }
  })
  test('is marked from its first word to its last by its own phrase', () => {
    const spans = matchSpans(clause('adj', term), title)
    expect(spans).toHaveLength(1)
    expect(title.slice(spans[0]!.start, spans[0]!.end).length).toBeGreaterThan(title.length * 0.75)
  })
})

test.each([
  ['O’Brien', [1, 2]],
  ["o'brien", [1, 2]],
  ['moth', [1, 2]],
  ['éclairage', [3]],
  ["l'eclairage", [3]],
  ['CO2', [7]],
  ['field flight', [11]],
  ['pollinators', [12]],
  ['Quran', []],
  ["Qur'an", [16]],
  ['علم', [22]],
  ['照明', [34]],
  ['光', [32, 33]],
  ['データ', [35]],
  ['light*', []],
  ['street-light*', [6]],
  ['lighting-street', []],
  ["moth's", [1, 2]],
  ['^moth*', [0]],
  ['lantern^', [5]],
  ['^光^', [33]],
  ['moth?', [0, 41, 45, 46]],
])('%s', (term, numbers) => {
  expect(found(all, '=', term)).toEqual(expect.arrayContaining(numbers))
  if (!numbers.length) expect(found(all, '=', term)).not.toContain(16)
})

test('an anchor means where a value begins and ends, whatever is asked for', () => {
  const on = index(['moth lamp', 'lamp moth', 'a moth lamp', 'moth'])
  expect(found(on, '=', '^moth')).toEqual([0, 3])
  expect(found(on, '=', 'moth^')).toEqual([1, 3])
  expect(found(on, '=', '^moth^')).toEqual([3])
  expect(found(on, 'adj', '^moth lamp^')).toEqual([0])
  expect(found(on, 'any', '^lamp moth^')).toEqual([1, 3])
  expect(matchSpans(clause('=', '^moth'), 'moth and moth')).toEqual([{ start: 0, end: 4, concept: 0 }])
})

test('whatever the letters: a text is found by its own phrase, and by each of its words', () => {
  const letters = fc.oneof(
    fc.string({ unit: 'grapheme', maxLength: 24 }),
    fc.string({ unit: 'binary', maxLength: 12 }),
    fc
      .array(fc.constantFrom(...TITLES.flatMap(t => t.split(' ')), '夜', '-', '’', '\u00AD', '*', '\\', '^'), {
        maxLength: 8,
      })
      .map(w => w.join(' ')),
  )
  fc.assert(
    fc.property(letters, text => {
      const on = index([text, 'something else altogether'])
      // signs that stand for an apostrophe, and marks on nothing, make no word
      const letter = /[\p{L}\p{N}]/u
      const bare = (w: string) => w.normalize('NFKD').replace(/[\p{M}\u02b9-\u02bf\u02c8\u02ee\u0640]/gu, '')
      const real = words(text).filter(w => letter.test(w) && letter.test(bare(w)))
      // where letters of two scripts touch, whether they are one word is a matter of taste
      const alone = text.split(/[^\p{L}\p{N}\p{M}\p{Cf}]+/u)
      for (const w of real.filter(r => alone.includes(r))) expect(found(on, '=', literally(w))).toContain(0)
      const any = real.length > 0
      if (any) for (const r of ['adj', '==', 'all'] as const) expect(found(on, r, literally(text))).toContain(0)
    }),
    { numRuns: 400 },
  )
})
