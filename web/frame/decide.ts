import { useQueryClient } from '@tanstack/react-query'
import type { Choice, Pass, State } from '../../core/sift/decisions'
import { lineIn } from '../../core/sift/line'
import type { Part } from '../../core/sift/marks'
import type { WorkLine } from '../../core/sift/line'
import { worksKey } from '../api/hooks'
import type { Patch } from '../outbox/letter'
import { outboxOf } from '../outbox/outbox'
import { some } from './counted'
import { tell } from './parts'

const stateOf: Record<Choice, State> = { keep: 'kept', 'set aside': 'set aside', later: 'later' }
const said: Record<Choice, string> = { keep: 'Kept', 'set aside': 'Set aside', later: 'Left for later' }

/** As many as the server takes in one request. */
const AT_ONCE = 5000

/** One thing said of works: of each what it is about and its value, and what that changes of its line. */
interface Saying {
  about: string
  value: unknown
  patch: (w: WorkLine) => Patch
}

/**
 * Decides works, and says of them what they are for: it shows at once, is sent in order, and can be undone. What the
 * server refuses is put back and stays to be tried again; while the server is away it is kept and sent again until it
 * is taken.
 */
export function useDecide(inquiry: number) {
  const client = useQueryClient()
  const outbox = outboxOf(client)
  const groups = outbox.groups(inquiry)
  const shownBy = JSON.stringify(worksKey(inquiry))
  const linesOf = (works: readonly number[]): WorkLine[] => {
    const lines = client.getQueryData<WorkLine[]>(['inquiry', inquiry, '/works']) ?? []
    return works.flatMap(id => lineIn(lines, id) ?? [])
  }
  /** Of each work what it has now, of all that a patch would change. */
  const before = (lines: readonly WorkLine[], patch: (w: WorkLine) => Patch): Record<number, Patch> =>
    Object.fromEntries(
      lines.map(w => [w.id, Object.fromEntries(Object.keys(patch(w)).map(k => [k, w[k as keyof WorkLine]]))]),
    )

  const undo = (group?: string) => {
    const g = group ?? groups.at(-1)
    if (!g) return tell('There is nothing to undo yet.')
    const at = groups.indexOf(g)
    if (at >= 0) groups.splice(at, 1)
    const shows = outbox.before(g)
    const id = crypto.randomUUID()
    outbox.add({
      id,
      inquiry,
      method: 'POST',
      path: '/undo',
      said: 'Taking back an earlier step',
      group: g,
      body: { group: g, id },
      shownBy,
      shows,
      before: Object.fromEntries(
        linesOf(Object.keys(shows).map(Number)).map(w => [
          w.id,
          Object.fromEntries(Object.keys(shows[w.id]!).map(k => [k, w[k as keyof WorkLine]])),
        ]),
      ),
    })
  }
  /** Sends what belongs to one group, in as many requests as it takes; it is undone as one. */
  const send = (
    path: '/decisions' | '/marks',
    list: readonly { work: number }[],
    said: string,
    body: (part: readonly { work: number }[]) => Record<string, unknown>,
    patch: (w: WorkLine) => Patch,
  ): string => {
    const group = crypto.randomUUID()
    groups.push(group)
    for (let i = 0; i < list.length; i += AT_ONCE) {
      const part = list.slice(i, i + AT_ONCE)
      const lines = linesOf(part.map(p => p.work))
      const [one] = lines
      outbox.add({
        id: crypto.randomUUID(),
        inquiry,
        method: 'POST',
        path,
        said: `${said}: ${lines.length === 1 && one ? `“${one.title}”` : some(lines.length, 'work')}`,
        group,
        body: { group, ...body(part) },
        shownBy,
        shows: Object.fromEntries(lines.map(w => [w.id, patch(w)])),
        before: before(lines, patch),
      })
    }
    return group
  }
  const decide = (works: readonly number[], choice: Choice, pass: Pass = 'abstract', reason?: string) => {
    if (!works.length) return
    const decidedAt = new Date().toISOString()
    const group = send(
      '/decisions',
      works.map(work => ({ work })),
      said[choice],
      part => ({
        decisions: part.map(({ work }) => ({ id: crypto.randomUUID(), work, pass, choice, reason: reason ?? null })),
      }),
      () => ({ state: stateOf[choice], pass, reason: reason ?? null, decidedAt }),
    )
    if (works.length > 1)
      tell(`${said[choice]}: ${some(works.length, 'work')}`, { label: 'Undo', onClick: () => undo(group) })
    return group
  }
  /** Says the same things of each of the works. */
  const say = (works: readonly number[], sayings: readonly Saying[], what: string, words?: string) => {
    if (!works.length) return
    const group = send(
      '/marks',
      works.flatMap(work => sayings.map(() => ({ work }))),
      what,
      part => ({
        marks: part.map(({ work }, i) => ({
          id: crypto.randomUUID(),
          work,
          about: sayings[i % sayings.length]!.about,
          value: sayings[i % sayings.length]!.value,
        })),
      }),
      w => sayings.reduce<Patch>((p, s) => ({ ...p, ...s.patch({ ...w, ...p }) }), {}),
    )
    if (words) tell(words, { label: 'Undo', onClick: () => undo(group) })
    return group
  }
  const bulk = (works: readonly number[], words: string) =>
    works.length > 1 ? `${words}: ${some(works.length, 'work')}` : undefined
  return {
    decide,
    undo,
    /** Takes note of something said by another way, so that the undo key takes it back in its turn. */
    said: (group: string) => void groups.push(group),
    part: (works: readonly number[], part: Part | null) =>
      say(works, [{ about: 'part', value: part, patch: () => ({ part }) }], 'Part', bulk(works, part ?? 'No part')),
    strand: (works: readonly number[], strand: { id: number; name: string }, on: boolean) =>
      say(
        works,
        [onStrand(strand.id, on)],
        `Strand ${strand.name}`,
        bulk(works, on ? strand.name : `Off ${strand.name}`),
      ),
    /** From one strand to another, undone as one; null is no strand. */
    move: (works: readonly number[], from: number | null, to: number | null) =>
      say(works, [...(from ? [onStrand(from, false)] : []), ...(to ? [onStrand(to, true)] : [])], 'Strand'),
    tag: (works: readonly number[], tag: string, on: boolean) =>
      say(
        works,
        [
          {
            about: `tag:${tag}`,
            value: on,
            patch: w => ({ tags: on ? [...w.tags.filter(t => t !== tag), tag] : w.tags.filter(t => t !== tag) }),
          },
        ],
        `Tag ${tag}`,
        bulk(works, on ? tag : `Without ${tag}`),
      ),
  }
}

const onStrand = (id: number, on: boolean): Saying => ({
  about: `strand:${id}`,
  value: on,
  patch: w => ({
    strands: on ? [...w.strands.filter(s => s !== id), id].sort((a, b) => a - b) : w.strands.filter(s => s !== id),
  }),
})
