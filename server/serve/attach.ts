import type { Response } from 'express'

/** Says under which name a file is saved (RFC 6266, its letters as RFC 8187 has them). */
export function attach(res: Response, name: string, plain: string): void {
  const encoded = encodeURIComponent(name).replace(/['()*]/g, c => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)
  res.set('Content-Disposition', `attachment; filename="${plain}"; filename*=UTF-8''${encoded}`)
}
