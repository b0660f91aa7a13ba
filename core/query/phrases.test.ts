import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { phrasesOf } from './phrases'

test.each([
  [
    'Does street lighting change what night-flying pollinators do in towns?',
    'street lighting | night-flying pollinators | towns',
  ],
  [
    'How do school gardens change what children eat in small towns of the coast?',
    'school gardens | children | small towns | coast',
  ],
  [
    'What is the effect of sleep deprivation on memory consolidation in adolescents?',
    'sleep deprivation | memory consolidation | adolescents',
  ],
  ['Is ocean acidification harming coral reef fish behaviour?', 'ocean acidification | coral reef fish behaviour'],
  ['Why did medieval guilds regulate the price of bread?', 'medieval guilds | price | bread'],
  ['How is machine translation used in court interpreting?', 'machine translation | court interpreting'],
  ['Which factors predict teacher burnout in rural schools?', 'teacher burnout | rural schools'],
  ['Can microplastics in rivers be removed by mussels?', 'microplastics | rivers | mussels'],
  [
    'The role of women in the resistance movements of mountain villages, 1940-1945',
    'women | resistance movements | mountain villages | 1940-1945',
  ],
  ['social media and body image in teenage girls', 'social media | body image | teenage girls'],
  ["Are urban heat islands worsening children's asthma?", "urban heat islands | children's asthma"],
  ['How does poverty influence voting behaviour?', 'poverty | voting behaviour'],
  ['What helps gifted children learn mathematics?', 'gifted children | mathematics'],
  ['How did printing presses spread heresy?', 'printing presses | heresy'],
  ['Нужен ли свет?', 'нужен ли свет'],
  ['  ?! ', ''],
])('%s', async (question, phrases) => expect((await phrasesOf(question)).join(' | ')).toBe(phrases))

test('whatever is asked, each phrase stands in the question, once', async () => {
  const words = fc.constantFrom(
    'lamps',
    'use',
    'do',
    'light',
    'was',
    'burning',
    'of',
    'the',
    'towns',
    '?',
    ',',
    '–',
    'été',
    "children's",
    '光',
  )
  await fc.assert(
    fc.asyncProperty(fc.array(words, { maxLength: 14 }), async given => {
      const question = given.join(' ')
      const phrases = await phrasesOf(question)
      for (const p of phrases) expect(question.toLowerCase()).toContain(p)
      expect(new Set(phrases).size).toBe(phrases.length)
    }),
  )
})
