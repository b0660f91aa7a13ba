import { plainTitle } from '../../core/bib/clean'
import { fold } from '../../core/bib/fold'
import { harvest, wordsIn, type Described, type Harvested } from '../../core/query/harvest'
import type { Answer } from '../../core/schema/api'
import type { HarvestOf } from '../../core/schema/api/gather'
import type { Context } from '../base/context'
import type { WorkRow } from '../pool/pool-model'
import { sweptWorks } from './gather-model'

type Row = Pick<WorkRow, 'id' | 'item' | 'facts' | 'state'>
const described = (w: Row): Described => ({
  title: plainTitle(w.item.title, ''),
  keywords: w.facts.keywords ?? [],
  subjects: w.facts.subjects ?? [],
})

/**
 * Words that set some works of the pool apart from others: the kept ones from the rest; kept ones that no sweep met from
 * what sweeps did meet; those set aside from the kept ones, words to leave out, of which no kept work has any. Or all
 * words of one work.
 */
export async function harvestOf(
  c: Context,
  inquiryId: number,
  { work, of }: { work?: number | undefined; of?: HarvestOf | undefined },
): Promise<Answer<'harvest'>> {
  const rows: Row[] = await c.db.works.scope('living').findAll({
    where: { inquiryId, ...(work ? { id: work } : {}) },
    attributes: ['id', 'item', 'facts', 'state'],
    raw: true,
  })
  if (work) {
    const words = rows[0] ? [...wordsIn(described(rows[0]))] : []
    return { wanted: 1, others: 0, words: words.map(([text, from]) => ({ text, from, wanted: 1, others: 0, z: 0 })) }
  }
  const kept = rows.filter(w => w.state === 'kept')
  const told = (wanted: readonly Row[], others: readonly Row[], isFine: (word: Harvested) => boolean = () => true) => {
    const words = harvest(wanted.map(described), others.map(described)).filter(isFine)
    return { wanted: wanted.length, others: others.length, words }
  }
  if (of === 'missed') {
    const swept = await sweptWorks(c, inquiryId)
    return told(
      kept.filter(w => !swept.has(w.id)),
      rows.filter(w => swept.has(w.id)),
    )
  }
  if (of === 'aside') {
    const letters = kept.map(w => ` ${fold(`${w.item.title ?? ''} ${w.item.abstract ?? ''}`)} `).join('\n')
    return told(
      rows.filter(w => w.state === 'set aside'),
      kept,
      w => !w.others && !letters.includes(fold(w.text)),
    )
  }
  return told(
    kept,
    rows.filter(w => w.state !== 'kept'),
  )
}
