import { mayHelp, type PartnerAnswer } from '../../core/access/partners'
import { LOAN_KINDS } from '../../core/access/loan'
import type { Item } from '../../core/bib/item'
import type { Partner } from '../../core/schema/library'
import type { Context } from '../base/context'
import { OutsideError } from '../connect/http'
import { Patience } from '../connect/patience'
import { grouped } from '../db/rows'
import type { Library } from './libraries'
import { askCatalogue, ofThese, shelvesAt, tryShelves, type ShelvesSaid } from './shelves'

/** What a partner does for the readers of a library: it sends through an office alone. */
const doesOf = ({ office }: Library, p: Partner): PartnerAnswer['partner'] => ({
  ...{ name: p.name, place: p.place, visit: p.visit },
  sends: office ? LOAN_KINDS.filter(kind => p[kind]) : [],
})

/**
 * What the partners of libraries have of a work. A catalogue that several share is asked once.
 * @param day ISO date of the desk
 * @returns besides, the names of those that do not answer, and why
 */
export async function askPartners(
  c: Context,
  libraries: readonly Library[],
  item: Item,
  o: { day: string; patience: Patience; signal: AbortSignal },
): Promise<{ answers: PartnerAnswer[]; silent: string[]; why?: string }> {
  const asked = new Map<string, Promise<ShelvesSaid | undefined>>()
  const answers: PartnerAnswer[] = []
  const silent: string[] = []
  let why: string | undefined
  for (const library of libraries)
    for (const partner of library.partners) {
      const does = doesOf(library, partner)
      if (!mayHelp(does, item)) continue
      const shelves = shelvesAt(library, partner)
      const ask = () => o.patience.ask(shelves.address, () => askCatalogue(c, shelves, item, o.day, o.signal))
      const said = asked.get(shelves.address) ?? ask()
      asked.set(shelves.address, said)
      try {
        const there = await said
        if (!there) return { answers: [], silent: [] }
        answers.push({
          library: { key: library.key, name: library.name },
          ...{ partner: does, shelves: ofThese(shelves, there) },
        })
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        silent.push(partner.name)
        why = `${e.message} Whether ${partner.name} has it is not known.`
      }
    }
  return { answers, silent, ...(why ? { why } : {}) }
}

/** Asks the shelves of each partner, and tells of each what came back. */
export async function tryPartners(c: Context, library: Library): Promise<{ holds: boolean; said: string }> {
  const told = await Promise.all(
    library.partners.map(async partner => {
      const { name } = partner
      try {
        const { holds, said, short } = await tryShelves(c, shelvesAt(library, partner))
        return { name, holds, said: short ?? said, of: name }
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        // a catalogue that several share is away once
        return { name, holds: false, said: e.message, of: e.message }
      }
    }),
  )
  const said = [...grouped(told, t => t.of).values()].map(of => `${of.map(t => t.name).join(', ')}: ${of[0]!.said}`)
  return { holds: told.every(t => t.holds), said: said.join(' ') }
}
