import type { Browser, Page } from '@playwright/test'
import { pause } from '../server/test/running'
import { PASSWORD, type Deed, type Ground } from './ground'

export interface Window {
  page: Page
  id: number
  pressed: number
}

/** A client in a window of the real interface: it decides by keys, whatever becomes of the server meanwhile. */
export async function inWindow(ground: Ground, browser: Browser, windows: Window[], n: number): Promise<void> {
  const { address, random } = ground.of
  ground.busy.set(n, 'beginning')
  const { api, id, email } = await ground.account(n)
  ground.busy.set(n, 'bringing its works')
  const file = Array.from(
    { length: 400 },
    (_, i) => `@book{k${i}, title={Bats of hamlet ${n} number ${i}}, year=2001}`,
  ).join('\n')
  const made = await ground.insist<{ job: number }>(
    api,
    'POST',
    `/inquiries/${id}/imports`,
    new TextEncoder().encode(file),
  )
  if (!made || !(await ground.isDone(api, id, made.job))) return
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
  const page = await context.newPage()
  // every decision that the window sends, under whatever key and however often
  const sent = new Map<string, Deed>()
  page.on('request', r => {
    if (r.method() !== 'POST' || !r.url().endsWith('/decisions')) return
    const { group } = r.postDataJSON() as { group: string }
    if (sent.has(group)) return
    const deed: Deed = {
      what: 'decision in a window',
      acknowledged: false,
      there: `SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`,
    }
    sent.set(group, deed)
    ground.deeds.push(deed)
  })
  page.on('response', r => {
    if (r.status() !== 201 || !r.url().endsWith('/decisions')) return
    sent.get((r.request().postDataJSON() as { group: string }).group)!.acknowledged = true
  })
  ground.busy.set(n, 'signing in')
  // signed in through the interface; the server may die in the middle of that too
  for (let inside = false; !inside && !ground.stopping;)
    try {
      await page.goto(address)
      const home = page.getByText('Your inquiries')
      const form = page.getByLabel('E-mail address')
      await home.or(form).waitFor({ timeout: 15_000 })
      if (await form.isVisible()) {
        await form.fill(email)
        await page.getByLabel('Password').fill(PASSWORD)
        await page.getByRole('button', { name: 'Sign in' }).click()
      }
      await home.waitFor({ timeout: 15_000 })
      inside = true
    } catch {
      await pause(500)
    }
  const me = { page, id, pressed: 0 }
  windows.push(me)
  ground.busy.set(n, 'deciding')
  let opened = false
  while (!ground.stopping) {
    try {
      if (!opened || random.chance(0.03)) {
        await page.goto(`${address}/inquiries/${id}/sift?view=titles`)
        await page
          .getByRole('list', { name: 'Titles to decide on' })
          .locator('[aria-current=true]')
          .waitFor({ timeout: 15_000 })
        opened = true
      }
      const decided = await page.evaluate<string>(`document.querySelector('[aria-current=true]')?.textContent ?? ''`)
      if (!decided) break // all are decided
      await page.keyboard.press(random.pick(['j', 'f', ' ']))
      me.pressed++
    } catch {
      opened = false
    }
    await pause(random.int(150, 700))
  }
}
