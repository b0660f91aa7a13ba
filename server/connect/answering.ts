import { once } from 'node:events'
import { createServer, type RequestListener } from 'node:http'
import type { AddressInfo } from 'node:net'
import { readSettings } from '../base/settings'
import { outsideClient } from './http'
import type { Asking, SruSetting } from './sru-client'

/**
 * For tests: whatever stands outside is one server on this machine, which answers as it is told.
 * @param catalogues in place of those of the settings
 */
export async function answering(
  answer: RequestListener,
  catalogues?: SruSetting[],
): Promise<Asking & { close: () => void }> {
  const server = createServer(answer).listen(0, '127.0.0.1')
  await once(server, 'listening')
  const { outside } = readSettings({ VINE_SECRET: 'x'.repeat(32), DB_PASSWORD: 'x' })
  if (catalogues) outside.catalogues = catalogues
  outside.loopback = { suffix: '.example', address: '127.0.0.1', port: (server.address() as AddressInfo).port }
  const client = outsideClient({ ...outside, alsoFetch: [], privateNetworks: [] })
  return { settings: { outside }, outside: client, close: () => void server.close() }
}
