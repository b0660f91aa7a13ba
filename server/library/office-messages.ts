import { readIllMessage, type Agency, type IllConfirmation } from '../../core/formats/ill'
import type { LoanOffice } from '../../core/schema/library'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import { OutsideError, requireSuccess } from '../connect/http'
import { leaveOf, type Library } from './libraries'

/** A symbol as settings write it, ISIL:XX-1. */
export const agencyOf = (symbol: string): Agency => ({
  type: symbol.slice(0, symbol.indexOf(':')),
  value: symbol.slice(symbol.indexOf(':') + 1),
})

/**
 * Posts a message to a loan office.
 * @returns how it confirmed it
 * @throws OutsideError where it is away, or answers something else
 */
export async function postMessage(
  c: Pick<Context, 'outside'>,
  library: Library,
  office: LoanOffice,
  message: string,
  signal?: AbortSignal,
): Promise<IllConfirmation> {
  const { body } = requireSuccess(
    await c.outside(office.address, {
      method: 'POST',
      headers: { 'content-type': 'application/xml; charset=utf-8' },
      body: message,
      timeoutMs: 20_000,
      maxBytes: 1_000_000,
      sameHost: true,
      ...(signal ? { signal } : {}),
      ...leaveOf(library),
    }),
  )
  let said: ReturnType<typeof readIllMessage>
  try {
    said = readIllMessage(decodeXml(body))
  } catch (e) {
    throw new OutsideError(`The office answered something else: ${e instanceof Error ? e.message : String(e)}`, false)
  }
  if (!('confirmation' in said)) throw new OutsideError('The office answered without a confirmation.', false)
  return said.confirmation
}
