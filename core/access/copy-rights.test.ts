import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { isShared, licenceSaid, opensFor, openingOf, type CopyRight } from './copy-rights'

const right = (kind: CopyRight['kind'], holder: number | null, more: Partial<CopyRight> = {}): CopyRight => ({
  ...{ kind, holder, from: 'Halverane University Library', until: null },
  ...more,
})
const asks = (user: number) => ({ user, day: '2026-10-05', nameOf: (id: number) => ({ 1: 'Ada', 2: 'Bram' })[id] })

describe('who may open a copy', () => {
  test.each<[string, CopyRight[], boolean, boolean]>([
    ['an open copy is everybody’s', [right('open', null)], true, true],
    ['a library’s licence is for whoever signed in', [right('licence', 1)], true, false],
    ['a scan is for whoever asked for it', [right('loan', 1)], true, false],
    ['until its last day', [right('loan', 1, { until: '2026-10-05' })], true, false],
    ['and not after it', [right('loan', 1, { until: '2026-10-04' })], false, false],
    ['an own file is for who brought it', [right('own', 1)], true, false],
    ['and for all once it is passed on', [right('own', 1), right('passed on', null)], true, true],
    ['both who fetched it have it', [right('licence', 2), right('licence', 1)], true, true],
    ['without a right nobody has it', [], false, false],
  ])('%s', (_, rights, ada, bram) => {
    expect([opensFor(rights, 1, '2026-10-05'), opensFor(rights, 2, '2026-10-05')]).toEqual([ada, bram])
    expect([openingOf(rights, asks(1)).opens, openingOf(rights, asks(2)).opens]).toEqual([ada, bram])
  })
  test('says by whose right, to each in their words', () => {
    const says = (rights: CopyRight[], user: number) => openingOf(rights, asks(user)).said
    const open = right('open', null, { from: 'CC BY 4.0, as its own pages say' })
    expect(says([open, right('licence', 1)], 2)).toBe('Open to everybody: CC BY 4.0, as its own pages say.')
    expect(says([right('licence', 1)], 1)).toBe('By the licence of Halverane University Library, for you alone.')
    expect(says([right('licence', 1)], 2)).toMatch(/^Ada has it by the licence of .*Fetch it by your own access\.$/)
    expect(says([right('loan', 2, { until: '2026-11-01' })], 2)).toBe(
      'A scan from Halverane University Library, for you alone, until 1 November 2026.',
    )
    expect(says([right('loan', 2, { until: '2026-10-01' })], 2)).toMatch(/ended on 1 October 2026: it opens no more/)
    expect(says([right('own', 9)], 2)).toMatch(/no member any more/)
  })
  test('what a library lent is not passed on, nor what is open already', () => {
    const may = (...rights: CopyRight[]) => openingOf(rights, asks(1)).mayPassOn
    expect(may(right('own', 1))).toBe(true)
    expect(may(right('licence', 1))).toBe(true)
    expect(may(right('loan', 1))).toBe(false)
    expect(may(right('own', 2))).toBe(false)
    expect(may(right('own', 1), right('open', null))).toBe(false)
    expect(openingOf([right('own', 1), right('passed on', null)], asks(1))).toMatchObject({
      ...{ mayPassOn: true, passedOn: true, shared: true },
    })
  })
  test('for whatever rights there are, what is shared opens for all, and what is told is what holds', () => {
    const rights = fc.array(
      fc.record({
        kind: fc.constantFrom<CopyRight['kind']>('licence', 'loan', 'own'),
        holder: fc.constantFrom(1, 2, 9),
        from: fc.constant('a library'),
        until: fc.constantFrom(null, '2026-10-04', '2026-10-05'),
      }),
    )
    fc.assert(
      fc.property(rights, fc.boolean(), fc.constantFrom(1, 2), (own, open, user) => {
        const all: CopyRight[] = open ? [...own, right('open', null)] : own
        const told = openingOf(all, asks(user))
        expect(told.opens).toBe(opensFor(all, user, '2026-10-05'))
        expect(told.shared).toBe(isShared(all))
        expect(told.said).toMatch(/\.$/)
      }),
    )
  })
})

describe('the licence that a text says it is under', () => {
  test.each<[string, string | undefined]>([
    ['This article is licensed under a Creative Commons Attribution 4.0 International License.', 'CC BY 4.0'],
    [
      'This is an open access article distributed under the terms of the Creative Commons Attribution License.',
      'CC BY',
    ],
    [
      'This work is licensed under the Creative Commons Attribution-NonCommercial-NoDerivatives 4.0 International License.',
      'CC BY-NC-ND 4.0',
    ],
    ['© 2019 Mara Lune. Licensed under https://creativecommons.org/licenses/by-sa/3.0/.', 'CC BY-SA 3.0'],
    ['To view a copy of this licence, visit http://creativecommons.org/licenses/by-nc/4.0/.', 'CC BY-NC 4.0'],
    ['The paper has been released under https://creativecommons.org/publicdomain/zero/1.0/', 'CC0'],
    ['Dieser Beitrag steht unter der Lizenz https://creativecommons.org/licenses/by/4.0/deed.de.', 'CC BY 4.0'],
    ['Cet article est mis à disposition selon https://creativecommons.org/licenses/by-nd/4.0/.', 'CC BY-ND 4.0'],
    // of a picture, of others, or of nothing that is named
    ['Figure 2. A moth at the lamp. Photo by M. Lune, https://creativecommons.org/licenses/by/4.0/.', undefined],
    ['The images in this article are under a Creative Commons Attribution 4.0 licence.', undefined],
    ['This article asks why museums choose Creative Commons Attribution licences.', undefined],
    ['Works published by others under a Creative Commons Attribution 4.0 licence were left out.', undefined],
    ['See https://creativecommons.org/licenses/by/4.0/ for what it allows.', undefined],
    ['All rights reserved.', undefined],
  ])('%s', (text, licence) =>
    expect(licenceSaid([`Moths at lamps\n${text}\nIntroduction`, 'more', 'end'])).toBe(licence),
  )
  test('is looked for on the first two pages and on the last', () => {
    const said = 'This article is licensed under a Creative Commons Attribution 4.0 International License.'
    expect(licenceSaid(['', said, '', ''])).toBe('CC BY 4.0')
    expect(licenceSaid(['', '', '', said])).toBe('CC BY 4.0')
    expect(licenceSaid(['', '', said, ''])).toBeUndefined()
    expect(licenceSaid([])).toBeUndefined()
  })
})
