import { createServer, type Server } from 'node:http'
import type { RequestHandler } from 'express'
import { collectDefaultMetrics, Histogram, register } from 'prom-client'

const seconds = new Histogram({
  name: 'vine_request_seconds',
  help: 'Time from a request to the end of its answer',
  labelNames: ['method', 'route', 'status'],
  buckets: [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10],
})

/** Measures requests by what they ask for, and not by whose it is. Streams last as long as a page and are left out. */
export const measureRequests: RequestHandler = (req, res, next) => {
  const began = performance.now()
  res.on('finish', () => {
    const route = (req.route as { path?: unknown } | undefined)?.path
    if (route === '/events') return
    seconds.observe(
      { method: req.method, route: typeof route === 'string' ? route : 'none', status: String(res.statusCode) },
      (performance.now() - began) / 1000,
    )
  })
  next()
}

/** Tells the figures of this process on a port of their own, as text after OpenMetrics; to this machine alone. */
export function tellMetrics(port: number): Server {
  collectDefaultMetrics()
  return createServer((req, res) => {
    if (req.url !== '/metrics') return void res.writeHead(404).end()
    register.metrics().then(
      text => res.writeHead(200, { 'content-type': register.contentType }).end(text),
      () => res.writeHead(500).end(),
    )
  }).listen(port, '127.0.0.1')
}
