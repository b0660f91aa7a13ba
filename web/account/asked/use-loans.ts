import { useQuery, useQueryClient } from '@tanstack/react-query'
import { api, type Answer, type Loan } from '../../../core/schema/api'
import type { LoanAct } from '../../../core/access/loan-acts'
import { call } from '../../api/client'
import { tellError } from '../../frame/parts'

const KEY = ['loans']
/** Offices write when they like; some answer at once. */
const OFTEN = 1500
const SOON = 5000
const SELDOM = 30_000

/** Carries a request on; false where it stood otherwise. */
export type Act = (loan: Loan, act: LoanAct, told?: { said?: string; until?: string }) => Promise<boolean>

/** What one asked for, and what can be done with it. */
export function useLoans() {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: KEY,
    queryFn: () => call(api.loans, {}),
    refetchInterval: ({ state: { data } }) =>
      data?.loans.some(l => l.busy) ? OFTEN : data?.loans.some(l => l.waits) ? SOON : SELDOM,
  })
  const act: Act = async (loan, doing, { said = '', until } = {}) => {
    try {
      const now = await call(api.actOnLoan, {
        params: { loan: loan.id },
        body: { act: doing, said, ...(until ? { until } : {}) },
      })
      client.setQueryData<Answer<'loans'>>(
        KEY,
        before => before && { ...before, loans: before.loans.map(l => (l.id === now.id ? now : l)) },
      )
      return true
    } catch (e) {
      tellError(e)
      void client.invalidateQueries({ queryKey: KEY })
      return false
    }
  }
  return { query, act }
}
