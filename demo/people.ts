import { authorIdCheckDigit, normaliseAuthorId } from '../core/bib/identifiers'
import type { Name } from '../core/bib/item'
import type { Random } from '../core/world/random'

/** Names are put together from invented parts, so that they belong to nobody. */
const beginnings = (
  'Alden Ambro Berg Brand Castel Dahl Dunmor Eber Eskel Farrow Fjord Galli Hartig Haver Imber Jarne Kestre Kvist Lammer Lindqv Lori Madder ' +
  'Merrow Mont Nacht Okaf Ollern Oster Pember Petters Quill Raven Rosen Sayeg Selva Staven Thorn Toller Udden Vanter Velas Wexc Whit Yamad Zell ' +
  'Åker Ørn Szél Dvoř Nguy Tana Moth Olu Ibra Sori Ekwu Barri'
).split(' ')
const endings = (
  'aby anger ard ashe elin enbach endale erby ermark esund etti evar ford grave heim holt ides ier igan ilde imoor ingham inska ivers mont ' +
  'more nagel oja olde omba ondo onge orro oumi ovic quist rane stein strand uchi ume ura vane wick'
).split(' ')
const givens = (
  'Ada Anselm Beatrix Bjorn Carys Dafina Desmond Elspeth Emeka Fenna Goran Hanne Ines Ivar Jocasta Kerensa Kofi Leontine Lucan Maren ' +
  'Mireille Ngozi Odalys Oskar Petra Quentin Rafael Ragna Salome Signe Tadeo Thea Ulla Viggo Wanjiru Xanthe Yusra Zoltan Ève Žofia Åsa José Renée ' +
  'Pádraig Magdaléna Søren Nuria Teodor Amara Lin Haruka Bao Chidi Eirlys Farid Gwen Hiroto Ilse Jun'
).split(' ')
const particles = ['van', 'de la', 'von', 'van der', 'da', 'ter']

export interface Person {
  name: Name
  /** Name before a change, and the year from which the new one stands. */
  before?: { name: Name; until: number }
  /** First year of work. */
  from: number
  /** Made up, beyond those that are given out (ISO 27729). */
  id: string
}

/**
 * People who publish: shared names, changed names, initials, particles, one-name authors. Sorted by their first year.
 */
export function makePeople(r: Random, n: number, lastYear: number, group = 0): Person[] {
  const families = Array.from({ length: Math.max(40, Math.floor(n * 0.55)) }, () => {
    const one = r.pick(beginnings) + r.pick(endings)
    return r.chance(0.08) ? `${one}-${r.pick(beginnings)}${r.pick(endings)}` : one
  })
  const named = (): Name => {
    if (r.chance(0.006)) return { literal: r.pick(givens) + r.pick(endings) }
    const given = [r.pick(givens), r.chance(0.55) ? `${r.pick(givens)[0]}.` : ''].filter(Boolean).join(' ')
    const family = r.pick(families)
    return r.chance(0.05) ? { family, given, 'non-dropping-particle': r.pick(particles) } : { family, given }
  }
  const people = Array.from({ length: n }, (): Person => {
    const from = Math.max(1880, Math.round(lastYear - 4 + 19 * Math.log(1 - r() * 0.9995)))
    const name = named()
    if (name.family && r.chance(0.035)) {
      const until = from + r.int(3, 14)
      return { name, from, id: '', before: { name: { ...name, family: r.pick(families) }, until } }
    }
    return { name, from, id: '' }
  })
  for (const [i, p] of people.entries()) {
    const digits = `9999${String(group).padStart(3, '0')}${String(i).padStart(8, '0')}`
    p.id = normaliseAuthorId(digits + authorIdCheckDigit(digits))!
  }
  return people.sort((a, b) => a.from - b.from)
}

/** The name a person has in a year, sometimes with initials alone. */
export function nameIn(p: Person, year: number, initials: boolean): Name {
  const name = p.before && year <= p.before.until ? p.before.name : p.name
  return initials && name.given ? { ...name, given: name.given.replace(/(\p{L})[\p{L}-]+\.?/gu, '$1.') } : name
}
