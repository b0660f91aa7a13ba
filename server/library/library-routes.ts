import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { findLibraries } from './directory'
import { forget, gatedBy, gatedOf, gatesOf, lookAtGate, openGate } from './gate-service'
import { fetchHoldings } from './holdings'
import { toldHours } from './hours'
import { librariesOf } from './libraries'
import { titleHeld } from './title-held'
import {
  addLibrary,
  allowLibrary,
  bringHoldings,
  changeLibrary,
  chooseLibraries,
  dropLibrary,
  librariesInAll,
  libraryBy,
  libraryInFull,
  profileOf,
  readLibrary,
} from './libraries-service'
import { cataloguesOf, probe } from './probe-service'
import { tryPart } from './tries'

/** The libraries: which are asked, and what they hold; and the catalogues. */
export function libraryRoutes(c: Context, serve: Serve): void {
  serve(api.catalogues, () => cataloguesOf(c))
  serve(api.probe, ({ userId, body, gone }) => probe(c, userId, body, gone))

  const asking = ({ userId, req }: { userId: number; req: { ip?: string | undefined } }) => ({
    userId,
    from: req.ip ?? '',
  })
  serve(api.libraries, asked => librariesInAll(c, asking(asked)))
  serve(api.chooseLibraries, async asked => {
    await chooseLibraries(c, asked.userId, asked.body.libraries)
    return librariesInAll(c, asking(asked))
  })
  serve(api.findLibraries, ({ body }) => findLibraries(c, body.words))
  serve(api.addLibrary, async ({ userId, body, once }) => {
    const read = await readLibrary(c, userId, body)
    return once(t => addLibrary(c, userId, read, t))
  })
  serve(api.library, asked => libraryInFull(c, asking(asked), asked.params.library))
  serve(api.changeLibrary, async asked => {
    await changeLibrary(c, asked.userId, asked.params.library, asked.version, asked.body)
    return libraryInFull(c, asking(asked), asked.params.library)
  })
  serve(api.dropLibrary, ({ userId, params }) => dropLibrary(c, userId, params.library))
  serve(api.libraryFile, async ({ userId, params, res }) => {
    const library = await libraryBy(c, userId, params.library)
    res
      .attachment(`${library.name}.json`)
      .type('json')
      .send(JSON.stringify(profileOf(library), null, 2))
  })
  serve(api.tryLibrary, async asked => {
    const { userId, params } = asked
    await tryPart(c, userId, await libraryBy(c, userId, params.library), asked.body.part)
    return libraryInFull(c, asking(asked), params.library)
  })
  serve(api.fetchHoldings, async asked => {
    const { userId, params } = asked
    const library = await libraryBy(c, userId, params.library)
    await asked.once(t => fetchHoldings(c, userId, library, t))
    return libraryInFull(c, asking(asked), params.library)
  })
  serve(api.bringHoldings, async asked => {
    const { userId, params, file } = asked
    await asked.once(async t => {
      await bringHoldings(c, userId, params.library, file, t)
      return {}
    })
    return libraryInFull(c, asking(asked), params.library)
  })
  serve(api.titleHeld, async ({ userId, params, query }) => ({
    said: await titleHeld(c, await libraryBy(c, userId, params.library), query),
  }))
  serve(api.allowLibrary, async asked => {
    await allowLibrary(c, asked.userId, asked.params.library, asked.body.allowed)
    return librariesInAll(c, asking(asked))
  })
}

/** The gates and the hours of the libraries that are asked for an inquiry. */
export function gateRoutes(c: Context, serve: Serve): void {
  serve(api.hours, async ({ member }) => toldHours(c, await librariesOf(c, member.inquiryId)))
  serve(api.gates, ({ member, req }) => gatesOf(c, member, req.ip ?? ''))
  serve(api.lookAtGates, async ({ member, req }) => {
    for (const library of await gatedOf(c, member.inquiryId)) await lookAtGate(c, member.userId, library)
    return gatesOf(c, member, req.ip ?? '')
  })
  serve(api.openGate, async ({ member, params, body, req }) => {
    const library = await gatedBy(c, member.inquiryId, params.library)
    await openGate(c, member.userId, req.ip ?? '', library, body)
    return gatesOf(c, member, req.ip ?? '')
  })
  serve(api.closeGate, ({ member, params }) => forget(c, member.userId, params.library))
}
