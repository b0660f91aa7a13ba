import '@fontsource-variable/literata/index.css'
import '@fontsource-variable/literata/wght-italic.css'
import '@fontsource-variable/public-sans/index.css'
// titles come in any script; a browser fetches only the letters that it shows
import '@fontsource-variable/noto-sans-arabic/index.css'
import '@fontsource-variable/noto-sans-jp/index.css'
import '@fontsource-variable/noto-sans-kr/index.css'
import '@fontsource-variable/noto-sans-sc/index.css'
import { ChakraProvider } from '@chakra-ui/react'
import { notifyManager, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { lazy, StrictMode, Suspense, type ReactNode } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, Navigate } from 'react-router'
import { RouterProvider } from 'react-router/dom'
import { ApiError } from './api/client'
import { applyMode } from './frame/colour-mode'
import { InquiryFrame } from './frame/inquiry-frame'
import { ErrorPage } from './frame/error-page'
import { Toaster, Waiting } from './frame/parts'
import { SignedIn } from './frame/session'
import { WorkPage } from './frame/work-sheet'
import { Inquiries } from './stations/inquiries'
import { system } from './theme'

applyMode()
// what a key changes here and what it changes in the pool are drawn together, not one after the other
notifyManager.setScheduler(queueMicrotask)

const client = new QueryClient({
  queryCache: new QueryCache(),
  defaultOptions: {
    queries: {
      staleTime: 5000,
      // while the server or its database is away, keep asking; other answers do not change by asking again
      retry: (count, e) =>
        e instanceof ApiError ? (e.status === 0 || e.status === 503 ? count < 60 : false) : count < 2,
      retryDelay: 1500,
    },
  },
})

const Brief = lazy(() => import('./stations/brief/brief').then(m => ({ default: m.Brief })))
const NewInquiry = lazy(() => import('./stations/brief/brief').then(m => ({ default: m.NewInquiry })))
const Gather = lazy(() => import('./stations/gather/gather').then(m => ({ default: m.Gather })))
const Sift = lazy(() => import('./stations/sift/sift').then(m => ({ default: m.Sift })))
const Trace = lazy(() => import('./stations/trace/trace').then(m => ({ default: m.Trace })))
const GrantPage = lazy(() => import('./stations/trace/grant').then(m => ({ default: m.GrantPage })))
const Author = lazy(() => import('./stations/trace/author').then(m => ({ default: m.Author })))
const Obtain = lazy(() => import('./stations/obtain/obtain').then(m => ({ default: m.Obtain })))
const ShelfList = lazy(() => import('./stations/obtain/shelf-list').then(m => ({ default: m.ShelfList })))
const Read = lazy(() => import('./stations/read/read').then(m => ({ default: m.Read })))
const Compose = lazy(() => import('./stations/compose/compose').then(m => ({ default: m.Compose })))
const HandIn = lazy(() => import('./stations/compose/hand-in/hand-in').then(m => ({ default: m.HandIn })))
const YourAccount = lazy(() => import('./account/your-account').then(m => ({ default: m.YourAccount })))
const Catalogues = lazy(() => import('./account/catalogues').then(m => ({ default: m.Catalogues })))
const Libraries = lazy(() => import('./account/libraries/libraries').then(m => ({ default: m.Libraries })))
const Asked = lazy(() => import('./account/asked/asked').then(m => ({ default: m.Asked })))
const Accounts = lazy(() => import('./account/accounts').then(m => ({ default: m.Accounts })))
const later = (page: ReactNode) => <Suspense fallback={<Waiting />}>{page}</Suspense>

const router = createBrowserRouter([
  {
    element: <SignedIn />,
    errorElement: <ErrorPage />,
    HydrateFallback: Waiting,
    children: [
      { index: true, element: <Inquiries /> },
      { path: 'new', element: later(<NewInquiry />) },
      { path: 'account', element: later(<YourAccount />) },
      { path: 'libraries/:library?', element: later(<Libraries />) },
      { path: 'asked', element: later(<Asked />) },
      { path: 'library', element: <Navigate to="/libraries" replace /> },
      { path: 'catalogues', element: later(<Catalogues />) },
      { path: 'accounts', element: later(<Accounts />) },
      {
        path: 'inquiries/:inquiry',
        element: <InquiryFrame />,
        errorElement: <ErrorPage />,
        children: [
          { index: true, element: <Navigate to="gather" replace /> },
          { path: 'brief', element: later(<Brief />) },
          { path: 'gather', element: later(<Gather />) },
          { path: 'sift', element: later(<Sift />) },
          { path: 'trace', element: later(<Trace />) },
          { path: 'author', element: later(<Author />) },
          { path: 'grant', element: later(<GrantPage />) },
          { path: 'obtain', element: later(<Obtain />) },
          { path: 'obtain/shelf', element: later(<ShelfList />) },
          { path: 'read/:copy?', element: later(<Read />) },
          { path: 'compose', element: later(<Compose />) },
          { path: 'compose/hand-in', element: later(<HandIn />) },
          { path: 'works/:work', element: <WorkPage /> },
        ],
      },
      { path: '*', element: <ErrorPage /> },
    ],
  },
])

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <RouterProvider router={router} />
        <Toaster />
      </QueryClientProvider>
    </ChakraProvider>
  </StrictMode>,
)
