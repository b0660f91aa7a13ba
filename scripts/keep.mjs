/** Keeps programs running: what dies is begun again after a pause that grows, and that is said. */

/**
 * @param {object} o
 * @param {string} o.name in a sentence: "The application"
 * @param {() => Promise<{ pid: number, ended: Promise<string> }>} o.begin begins it; `ended` tells how it ended
 * @param {() => Promise<boolean>} [o.answers] whether it answers; one that is silent for long is ended and begun again
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
      let heard = Date.now()
      let asking = false
      watch = setInterval(
        async () => {
          if (asking) return
          asking = true
          if (await answers()) heard = Date.now()
          asking = false
          if (stopped || Date.now() - heard < silence) return
          heard = Date.now()
          say(`${name} has not answered for ${Math.round(silence / 1000)} seconds and is ended.`)
          try {
            process.kill(pid, 'SIGKILL')
          } catch {
            // it ended by itself meanwhile
          }
        },
        Math.min(5000, silence / 4),
      )
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
