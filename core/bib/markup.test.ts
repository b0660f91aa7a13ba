import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { withoutMarkup } from './markup'

describe('markup in what registries give', () => {
  test.each([
    ['Lamps and moths', 'Lamps and moths'],
    ['On <i>Culex</i> and CO<sub>2</sub>', 'On <i>Culex</i> and CO<sub>2</sub>'],
    ['On <em>Culex</em> and <strong>lamps</strong>', 'On <i>Culex</i> and <b>lamps</b>'],
    ['<jats:title>On <jats:italic>Culex</jats:italic></jats:title>', ' On <i>Culex</i> '],
    ['AT&amp;T &eacute;t&eacute; &#8211; &#x3b2;', 'AT&T été – β'],
    ['R&D, A & B', 'R&D, A & B'],
    ['p < 0.05 and q > 3', 'p < 0.05 and q > 3'],
    ['a <b and c> d', 'a <b and c> d'],
    ['if x <y', 'if x <y'],
    ['<Lamp> as a word', '<Lamp> as a word'],
    ['&lt;i&gt;Culex&lt;/i&gt; in towns', '<i>Culex</i> in towns'],
    ['The sign &lt;b&gt; alone', 'The sign <b> alone'],
    ['The <span class="nocase">McArn</span> effect', 'The <span class="nocase">McArn</span> effect'],
    ['Light <span lang="la">in vivo</span>', 'Light in vivo'],
    ['<mml:math><mml:mi>x</mml:mi><mml:mo>+</mml:mo><mml:mn>1</mml:mn></mml:math> lamps', 'x+1 lamps'],
    ['Of <inline-formula><tex-math>$x^2$</tex-math><mml:math><mml:mi>x</mml:mi></mml:math></inline-formula> lamps', 'Of x lamps'],
    ['An <i>unclosed mark', 'An <i>unclosed mark</i>'],
    ['A closed</i> one', 'A closed one'],
    ['lamps <!-- and moths', 'lamps <!-- and moths'],
    ['lamps<!-- note --> and moths', 'lamps and moths'],
  ])('%s', (given, kept) => expect(withoutMarkup(given, true)).toBe(kept)) // prettier-ignore

  test('in an abstract no marks stay, and paragraphs stand on lines of their own', () => {
    expect(
      withoutMarkup(
        '<jats:sec><jats:title>Aim</jats:title><jats:p>On <i>Culex</i>.</jats:p><p>End.</p></jats:sec>',
        false,
      )
        .split('\n')
        .filter(Boolean),
    ).toEqual(['Aim', 'On Culex.', 'End.'])
  })

  test('no letter of a text without markup is lost', () => {
    const letters = fc.string({ unit: fc.constantFrom(...'abz <>&;/x1="-!?'), maxLength: 60 })
    fc.assert(
      fc.property(letters, text => {
        const kept = withoutMarkup(text, true)
        // elements and entities that are really there are spelled with more letters than these
        if (!/<\/?[ab]|<!--|&[a-z#]/i.test(text)) expect(kept).toBe(text)
      }),
    )
  })
  test('what was cleaned is clean', () => {
    const pieces = fc.array(fc.constantFrom('<i>', '</i>', '<p>', '</p>', 'lamp', ' & ', '&lt;', '<', '>', '&amp;'), {
      maxLength: 12,
    })
    fc.assert(
      fc.property(pieces, given => {
        const plain = withoutMarkup(given.join(''), false)
        // but for what was escaped, whose signs may meet others
        if (!given.includes('&lt;')) expect(plain).not.toMatch(/<\/?[ip]>/)
      }),
    )
  })
})
