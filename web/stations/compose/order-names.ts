import type { Order } from '../../../core/paper/layout'

/** Orders of the list as they are called. */
export const ORDER_NAMES: Record<Order, string> = {
  style: 'in the style’s order',
  strand: 'by strand',
  year: 'oldest first',
  hand: 'by hand',
}
