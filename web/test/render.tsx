import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { system } from '../theme'

/** Draws a part of the interface as it stands in the application, at an address. */
export function draw(part: ReactNode, at = '/') {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } })
  const drawn = render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[at]}>{part}</MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>,
  )
  return { ...drawn, client }
}
