import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { isNonsense } from './nonsense'

const TEXTS = {
  English:
    'The lamps were counted in six small towns, and the moths that came to them were caught by hand and let go again before the morning. Nobody had done that through the whole of a summer; those who tried gave up in the rain, which fell through most of the nights of that year.',
  German:
    'Die Lampen wurden in sechs kleinen Orten gezählt, und die Falter, die zu ihnen kamen, wurden von Hand gefangen und vor dem Morgen wieder freigelassen. Niemand hatte das einen ganzen Sommer lang getan; wer es versuchte, gab im Regen auf, der in den meisten Nächten fiel.',
  Czech:
    'Lampy byly sečteny v šesti malých městech a můry, které k nim přiletěly, byly chyceny do rukou a před ránem zase puštěny. Nikdo to nedělal celé léto; kdo to zkusil, vzdal to v dešti, který padal po většinu nocí toho roku, a vlk zmrzl, zhltl hrst zrn a čtvrt mrkve.',
  Russian:
    'Лампы были сосчитаны в шести небольших городах, а мотыльки, которые к ним прилетали, были пойманы рукой и отпущены до утра. Никто не делал этого целое лето; кто пробовал, тот сдавался под дождём, который шёл почти все ночи того года, и никто не вернулся назад.',
}
/** As a font does whose letters are counted from another place. */
const shifted = (text: string, by: number) =>
  text.replace(/\p{L}/gu, c => {
    const base = c === c.toUpperCase() ? 65 : 97
    const at = c.toLowerCase().charCodeAt(0) - 97
    return at < 0 || at > 25 ? c : String.fromCharCode(base + ((at + by) % 26))
  })

test.each(Object.entries(TEXTS))('%s is no nonsense', (_, text) => expect(isNonsense([text])).toBe(false))
test('letters that make no words are', () => {
  for (const by of [1, 5, 13, 19]) expect([by, isNonsense([shifted(TEXTS.English, by)])]).toEqual([by, true])
  expect(isNonsense([TEXTS.English.replace(/[aeiou]/g, 'x')])).toBe(true)
})
test('signs of no writing are, wherever they come from', () => {
  const private_ = TEXTS.English.replace(/\p{L}/gu, c => String.fromCodePoint(0xe000 + c.charCodeAt(0)))
  const dingbats = TEXTS.English.replace(/\p{L}/gu, c => String.fromCodePoint(0x2701 + (c.charCodeAt(0) % 100)))
  expect([isNonsense([private_]), isNonsense([dingbats])]).toEqual([true, true])
})
test('formulas, numbers and writing of other kinds among words are none', () => {
  expect(isNonsense([TEXTS.English, '✓ ✓ ✗ α = 3.2, β = 4.1 → γ'])).toBe(false)
  expect(isNonsense(['夜蛾と街灯の研究。'.repeat(20)])).toBe(false)
  expect(isNonsense(['الفراشات والمصابيح '.repeat(20)])).toBe(false)
  expect(isNonsense(['DNA RNA PCR BRCA MRSA '.repeat(2)])).toBe(false)
  expect(isNonsense([])).toBe(false)
})
test('a few words tell nothing', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 30 }), s =>
      expect(isNonsense([`${s.replace(/[^ -~]/g, '')} word`])).toBe(false),
    ),
  )
})
