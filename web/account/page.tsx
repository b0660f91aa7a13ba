import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { AccountMenu } from '../frame/session'

/** A page beside the inquiries: its name, what it is for, and the way back. */
export function Page({
  title,
  about,
  action,
  wide = false,
  children,
}: {
  title: string
  about: string
  action?: ReactNode
  /** Over the whole window, for what has two columns. */
  wide?: boolean
  children: ReactNode
}) {
  return (
    <Box
      as="main"
      maxW={wide ? '1280px' : '980px'}
      mx="auto"
      px={{ base: '16px', md: '24px' }}
      py={wide ? '20px' : '32px'}
    >
      <Flex justify="space-between" align="flex-start" mb={wide ? '16px' : '28px'} gap="16px">
        <Box>
          <Text fontSize="13px" mb="4px">
            <Link to="/">All inquiries</Link>
          </Text>
          <chakra.h1 fontFamily="serif" fontSize="28px" lineHeight="36px" fontWeight="600">
            {title}
          </chakra.h1>
          <Text color="soft">{about}</Text>
        </Box>
        <Flex gap="8px" flex="none">
          {action}
          <AccountMenu />
        </Flex>
      </Flex>
      {children}
    </Box>
  )
}
