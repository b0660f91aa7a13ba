import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { dropStyle, keepStyle, readBrought, sampleOf, stylesFor } from './styles-service'

/** Citation styles: to be found, seen and brought. */
export function stylesRoutes(c: Context, serve: Serve): void {
  serve(api.styles, ({ userId, query }) => stylesFor(c, userId, query.words))
  serve(api.bringStyle, async ({ userId, file, once }) => {
    const read = await readBrought(c, userId, file.bytes)
    return once(t => keepStyle(c, { userId, ...read }, t))
  })
  serve(api.dropStyle, ({ userId, params }) => dropStyle(c, userId, params.style))
  serve(api.styleSample, ({ userId, params: { style }, query: { language } }) =>
    sampleOf(c, userId, { style, language }),
  )
}
