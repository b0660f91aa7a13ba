import { useParams } from 'react-router'
import { api } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'
import { NotYours } from './not-yours'
import { ReadCopy } from './read-copy'
import { Shelf } from './shelf'

export function Read() {
  const { copy } = useParams()
  return copy ? <OneCopy key={copy} id={Number(copy)} /> : <Shelf />
}

function OneCopy({ id }: { id: number }) {
  const { inquiry } = useHere()
  const copy = useOf(inquiry.id, api.copy, { params: { copy: id } })
  if (copy.isPending) return <Waiting what="Opening the copy" />
  if (copy.isError) return <Failed error={copy.error} again={() => void copy.refetch()} />
  const { data } = copy
  if (!data.opening.opens) return <NotYours copy={{ ...data, passages: data.passages.length }} />
  return <ReadCopy copy={data} />
}
