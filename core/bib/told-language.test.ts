import { expect, test } from '@jest/globals'
import { toldLanguage } from './told-language'

test.each([
  [
    'en',
    'Moths at street lamps of a harbour town. We counted what came to twelve lamps in six weeks of summer, and what did not come to them.',
  ],
  [
    'de',
    'Nachtfalter an den Laternen einer Hafenstadt. Wir haben gezählt, was in sechs Wochen an zwölf Laternen kam und was nicht kam.',
  ],
  [
    'fr',
    'Les papillons de nuit et les réverbères d’une ville portuaire. Nous avons compté ce qui est venu à douze lampes en six semaines.',
  ],
  [
    'es',
    'Las polillas y las farolas de una ciudad portuaria. Contamos lo que vino a doce farolas durante seis semanas, y lo que no vino.',
  ],
  [
    'sv',
    'Nattfjärilar vid gatlyktor i en hamnstad. Vi räknade vad som kom till tolv lyktor under sex veckor, och vad som inte kom dit.',
  ],
  [
    'ru',
    'Ночные бабочки у фонарей портового города. Мы считали, что прилетало к двенадцати фонарям за шесть недель, а что не прилетало.',
  ],
  [
    'ja',
    '港町の街路灯に集まる夜行性昆虫について。私たちは六週間にわたり十二の街路灯に飛来したものと飛来しなかったものを数えた。',
  ],
])('words in “%s” tell it', (language, text) => expect(toldLanguage(text)).toBe(language))

test.each([
  ['a title alone', 'Nachtfalter an den Laternen einer Hafenstadt'],
  ['names', 'Sphingidae, Noctuidae, Geometridae'],
  ['figures', '12 '.repeat(400)],
  ['nothing', ''],
])('%s: nothing is told', (_, text) => expect(toldLanguage(text)).toBeUndefined())
