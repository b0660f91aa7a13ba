import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'

/** What is sealed for one use opens for no other. */
const keyOf = (secret: string, use: string): Buffer => createHash('sha256').update(`${use} ${secret}`).digest()

/** AES-256-GCM: nonce, tag, text. */
export function seal(secret: string, use: string, text: string): Buffer {
  const nonce = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', keyOf(secret, use), nonce)
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
  return Buffer.concat([nonce, cipher.getAuthTag(), body])
}
/** @throws where it was sealed with another secret, for another use, or was changed */
export function unseal(secret: string, use: string, sealed: Buffer): string {
  const decipher = createDecipheriv('aes-256-gcm', keyOf(secret, use), sealed.subarray(0, 12))
  decipher.setAuthTag(sealed.subarray(12, 28))
  return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8')
}
