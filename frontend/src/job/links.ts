/** What joins the two batteries while the engine runs: an old link, or a panel with one, whose feed is not cut. */
import type { Design } from '../api/types'

export function joins(item: NonNullable<Design['existing']>[number]): boolean {
  return (item.kind === 'link' || item.kind === 'panel') && item.cut !== true
}
