import { QueryTypes, type Sequelize } from 'sequelize'
import type { Item } from '../../core/bib/item'
import { languageCode } from '../../core/bib/languages'
import { toldLanguage } from '../../core/bib/told-language'
import { readJson } from '../db/rows'

/** Works that are read at once. */
const MOST = 500

/** Tells the language of works that came before languages were told, by their words. */
export async function fillLanguages(sequelize: Sequelize): Promise<void> {
  for (let after = 0; ;) {
    const rows = await sequelize.query<{ id: number; item: string | Item }>(
      `SELECT id, item FROM works WHERE id > :after ORDER BY id LIMIT ${MOST}`,
      { type: QueryTypes.SELECT, replacements: { after } },
    )
    const last = rows.at(-1)
    if (!last) return
    after = last.id
    for (const { id, item } of rows.map(r => ({ id: r.id, item: readJson(r.item) }))) {
      if (languageCode(item.language)) continue
      const told = toldLanguage(`${item.title ?? ''}. ${item.abstract ?? ''}`)
      if (told)
        await sequelize.query(
          `UPDATE works SET facts = JSON_SET(facts, '$.languageTold', :told), line = JSON_SET(line, '$.language', :told) WHERE id = :id`,
          { replacements: { id, told } },
        )
    }
  }
}
