import type { WorldWork } from '../../core/world/types'
import { WorldMaker } from '../../demo/generate'
import { writeKbart } from '../../demo/kbart'
import { outsideWorld } from '../../standins/app'
import { serveWorld, type ServedWorld } from '../../standins/world'

let works: WorldWork[] | undefined
let maker: WorldMaker | undefined

/** A made-up world of some hundred works, held in memory; each caller has a clock of its own. */
export function smallWorld(): ServedWorld {
  maker ??= new WorldMaker(7, 2500)
  works ??= [...maker].map(m => m.work)
  return serveWorld(works, maker.facts, writeKbart(7, maker.facts.venues, works))
}
export const smallOutside = (world: ServedWorld = smallWorld()) => outsideWorld(world)
