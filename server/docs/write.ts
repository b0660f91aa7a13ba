import { readFileSync, writeFileSync } from 'node:fs'
import { format } from 'prettier'
import type { AnySchema } from 'yup'
import { api } from '../../core/schema/api'
import { accountsApi } from '../../core/schema/api/accounts'
import { librariesApi } from '../../core/schema/api/libraries'
import { libraryShape } from '../../core/schema/library'
import { deskApi } from '../../core/schema/api/desk'
import type { Endpoint } from '../../core/schema/api/endpoint'
import { gatherApi } from '../../core/schema/api/gather'
import { inquiriesApi } from '../../core/schema/api/inquiries'
import { poolApi } from '../../core/schema/api/pool'
import { composeApi } from '../../core/schema/api/compose'
import { obtainApi } from '../../core/schema/api/obtain'
import { readApi } from '../../core/schema/api/read'
import { traceApi } from '../../core/schema/api/trace'
import { connectorShape } from '../../core/connectors/description'
import { jsonSchema, openApi } from './openapi'
import { apiPage } from './page'

/** The shape of a file, as JSON Schema (2020-12). */
const fileSchema = (title: string, shape: AnySchema) =>
  JSON.stringify({ $schema: 'https://json-schema.org/draft/2020-12/schema', title, ...jsonSchema(shape) })

/** The documents of the API as they should be, by their names. */
export async function apiDocuments(): Promise<Record<string, string>> {
  const parts: [string, Readonly<Record<string, Endpoint>>][] = [
    ['Accounts', accountsApi],
    ['Desk', deskApi],
    ['Libraries and gates', librariesApi],
    ['Inquiries and jobs', inquiriesApi],
    ['Gather', gatherApi],
    ['Pool and Sift', poolApi],
    ['Trace', traceApi],
    ['Obtain', obtainApi],
    ['Read', readApi],
    ['Compose', composeApi],
  ]
  const rules = { printWidth: 120, proseWrap: 'preserve' as const }
  return {
    'docs/api.md': await format(apiPage(readFileSync('server/docs/general.md', 'utf8'), parts), {
      ...rules,
      parser: 'markdown',
    }),
    'docs/connector.schema.json': await format(fileSchema('A connector of Vine Path', connectorShape), {
      ...rules,
      parser: 'json',
    }),
    'docs/library.schema.json': await format(fileSchema('A library of Vine Path', libraryShape), {
      ...rules,
      parser: 'json',
    }),
    'docs/openapi.json': await format(JSON.stringify(openApi(api)), { ...rules, parser: 'json' }),
  }
}

// `npm run docs`
if (process.argv[1]?.endsWith('write.ts'))
  for (const [file, text] of Object.entries(await apiDocuments())) {
    writeFileSync(file, text)
    console.log(`${file} is written.`)
  }
