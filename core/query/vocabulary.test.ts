import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { nameOf, nearestConcepts, termOfLabel, wayFrom, waysTo, type ConceptLabel } from './vocabulary'

const concept = (name: string, ...others: string[]) => ({
  labels: [
    { text: name, language: 'en', as: 'preferred' as const },
    ...others.map((text): ConceptLabel => ({ text, language: 'en', as: 'other' })),
  ],
})
const LIST = [
  concept('moths', 'night-flying Lepidoptera'),
  concept('owlet moths', 'Noctuidae'),
  concept('moths: diet'),
  concept('mothers'),
  concept('lamps (devices)', 'luminaires'),
  concept('cities', 'towns'),
  concept('Straßenbeleuchtung', 'street lighting'),
  concept('éclairage public'),
  concept('昆虫学'),
]
const found = (words: string) => nearestConcepts(words, LIST, 9).map(f => [f.concept.labels[0]!.text, f.same])

describe('words in a vocabulary', () => {
  test.each([
    ['moth', ['moths', true]],
    ['MOTHS', ['moths', true]],
    ['city', ['cities', true]],
    ['town', ['cities', true]],
    ['lamp', ['lamps (devices)', true]],
    ['strassenbeleuchtung', ['Straßenbeleuchtung', true]],
    ['Eclairage publics', ['éclairage public', true]],
    ['noctuidae', ['owlet moths', true]],
    ['lighting', ['Straßenbeleuchtung', false]],
    ['昆虫', ['昆虫学', false]],
  ])('%s', (words, first) => {
    expect(found(words)[0]).toEqual(first)
  })

  test('the same word first, then kinds of it, then parts of it, then what begins alike', () => {
    expect(found('moths').map(([name]) => name)).toEqual(['moths', 'owlet moths', 'moths: diet', 'mothers'])
    expect(nearestConcepts('moth', [concept('moths: diet'), concept('moths of meadows')], 2)[0]!.by.text).toBe(
      'moths of meadows',
    )
    expect(found('?*')).toEqual([])
    expect(found('light')).toEqual([['Straßenbeleuchtung', false]])
  })

  test('what is retired stands behind what is in use', () => {
    const old = { ...concept('glow-worms'), retired: [] }
    expect(nearestConcepts('glow-worm', [old, concept('glow-worms')], 2).map(f => 'retired' in f.concept)).toEqual([
      false,
      true,
    ])
  })

  test('every label is reached from each of its words, by one of its ways', () => {
    const word = fc.stringMatching(/^[a-z]{1,8}$/)
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 6 }), fc.nat(5), (words, from) => {
        const label = words.join(' ')
        const some = words.slice(from % words.length).join(' ')
        expect(waysTo(label).some(w => w.startsWith(wayFrom(some)!))).toBe(true)
        expect(nearestConcepts(some, [concept(label)], 1)).toHaveLength(1)
      }),
    )
  })

  test('a concept is called by its name in English, in no language, or by what there is', () => {
    const labels = (...of: [string, string | undefined, ConceptLabel['as']][]) => ({
      labels: of.map(([text, language, as]) => ({ text, as, ...(language ? { language } : {}) })),
    })
    expect(nameOf(labels(['Motten', 'de', 'preferred'], ['moths', 'en-gb', 'preferred'])).text).toBe('moths')
    expect(nameOf(labels(['Motten', 'de', 'preferred'], ['blattae', undefined, 'preferred'])).text).toBe('blattae')
    expect(nameOf(labels(['moths', 'en', 'other'], ['Motten', 'de', 'preferred'])).text).toBe('Motten')
    expect(nameOf(labels(['mohts', 'en', 'hidden'])).text).toBe('mohts')
  })

  test.each([
    ['street lamps', { text: 'street lamps' }],
    ['lamps (devices)', { text: 'lamps' }],
    ['Lighting, street', { text: 'Lighting street', apart: true }],
    ['moths: diet', { text: 'moths diet', apart: true }],
    ['Moths--Diet', { text: 'Moths Diet', apart: true }],
    ['night-scented plants', { text: 'night-scented plants' }],
    ['(devices)', { text: '(devices)' }],
  ])('%s as a term', (label, term) => {
    expect(termOfLabel(label, 'narrower')).toEqual({ role: 'narrower', ...term })
  })
})
