import { useRouteError } from 'react-router'
import { Empty, Homeward } from './parts'

export function ErrorPage() {
  const error = useRouteError() as { status?: number; message?: string } | undefined
  const missing = !error || error.status === 404
  return (
    <Empty title={missing ? 'There is no page at this address' : 'This page broke'} action={<Homeward />}>
      {missing
        ? 'It may have been moved, or the inquiry was deleted.'
        : `What you saved is safe. Load the page again; if it breaks again, this is what to tell us: ${error.message ?? 'unknown'}`}
    </Empty>
  )
}
