/** Keeps programs running: what dies is begun again after a pause that grows, and that is said. */
import { get } from 'node:http'

/**
 * @param {object} o
 * @param {string} o.name in a sentence: "The application"
 * @param {() => Promise<{ pid: number, ended: Promise<string> }>} o.begin begins it; `ended` tells how it ended
 * @param {() => Promise<boolean>} [o.answers] whether it answers; one that is silent for long is ended and begun again.
 *   Silence is counted by questions, not by the clock: one that slept or was held up itself has not heard a thing
 * @param {(sentence: string) => void} [o.say]
 * @returns {{ begin(): Promise<void>, stop(): void }} `begin` resolves when it was begun for the first time
 */
export function keep({
  name,
  begin,
  answers,
  say = console.error,
  firstPause = 1000,
  longestPause = 30_000,
  steady = 60_000,
  silence = 60_000,
}) {
  let stopped = false
  let pause = firstPause
  let timer
  let watch
  const run = async () => {
    const since = Date.now()
    const { pid, ended } = await begin()
    clearInterval(watch)
    if (answers) {
      const every = Math.min(5000, silence / 4)
      let unanswered = 0
      let asking = false
      watch = setInterval(async () => {
        if (asking) return
        asking = true
        unanswered = (await answers()) ? 0 : unanswered + 1
        asking = false
        if (stopped || unanswered * every < silence) return
        unanswered = 0
        say(`${name} has not answered for ${Math.round(silence / 1000)} seconds and is ended.`)
        try {
          process.kill(pid, 'SIGKILL')
        } catch {
          // it ended by itself meanwhile
        }
      }, every)
    }
    void ended.then(how => {
      clearInterval(watch)
      if (stopped) return
      // what ran well for a while begins anew without the pauses of before
      if (Date.now() - since > steady) pause = firstPause
      again(`${name} ended (${how}).`)
    })
  }
  const again = why => {
    say(`${why} It is begun again in ${pause < 1000 ? `${pause} ms` : `${pause / 1000} s`}.`)
    timer = setTimeout(() => {
      if (stopped) return
      run().then(
        () => say(`${name} runs again.`),
        e => again(`${name} could not be begun: ${e.message}`),
      )
    }, pause)
    pause = Math.min(longestPause, pause * 2)
  }
  return {
    begin: run,
    stop: () => {
      stopped = true
      clearTimeout(timer)
      clearInterval(watch)
    },
  }
}

/** Whether anything answers at an address within `patience` ms: that the database is away is an answer too. */
export const answersAt =
  (url, patience = 10_000) =>
  () =>
    new Promise(done => {
      const asked = get(url, { timeout: patience }, r => (r.resume(), done(true)))
      asked.on('error', () => done(false)).on('timeout', () => asked.destroy())
    })

/** How a child ended, in words, once it has. */
export const endOf = child =>
  new Promise(done => child.once('exit', (code, signal) => done(signal ? `signal ${signal}` : `code ${code}`)))

/** The end of a process that is not a child of this one: looked for again and again. */
export const goneOf = (alive, every = 1000) =>
  new Promise(done => {
    const timer = setInterval(() => {
      if (alive()) return
      clearInterval(timer)
      done('it is gone')
    }, every)
    timer.unref()
  })
