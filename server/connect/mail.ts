import { createTransport } from 'nodemailer'
import type { Context } from '../base/context'
import { OutsideError } from './http'

export interface Letter {
  to: string
  subject: string
  text: string
  /** The same letter sent twice has the same one, so that it is shown once. */
  id: string
  /** Where an answer goes. */
  replyTo?: string
  attachments?: readonly { filename: string; content: string | Buffer; contentType: string }[]
}

/** Hands a letter over by SMTP. @throws OutsideError where it is not taken, or no mail is set up */
export async function sendMail(c: Context, letter: Letter): Promise<void> {
  const { mail } = c.settings.outside
  if (!mail) throw new OutsideError('No mail is set up here.', false)
  const transport = createTransport({
    host: mail.host,
    port: mail.port,
    secure: mail.secure,
    ...(c.settings.outside.loopback ? { ignoreTLS: true } : {}),
    connectionTimeout: 10_000,
    greetingTimeout: 10_000,
    socketTimeout: 20_000,
  })
  try {
    const { id, attachments = [], ...rest } = letter
    await transport.sendMail({
      ...{ from: mail.from, messageId: `<${id}@${new URL(c.settings.address).hostname}>`, ...rest },
      attachments: [...attachments],
    })
  } catch (e) {
    throw new OutsideError(`The mail could not be sent: ${e instanceof Error ? e.message : String(e)}`, true)
  } finally {
    transport.close()
  }
}
