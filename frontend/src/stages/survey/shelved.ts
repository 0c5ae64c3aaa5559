/** Something of the vehicle chosen from the shelf: its record says what it is; where it stands and what hangs on it stays. */
import type { Design } from '../../api/types'
import type { Change } from '../../job/change'
import { getAt } from '../../job/path'

type Place = 'vehicle.alternator' | 'auxiliary'
const OF_THE_VEHICLE: Record<Place, readonly string[]> = {
  'vehicle.alternator': ['loads_idle_a', 'loads_cruise_a', 'sag_mohm'],
  auxiliary: ['place', 'temperature_min_c', 'temperature_max_c'],
}
const BY_DATASHEET: Record<Place, readonly string[]> = {
  'vehicle.alternator': ['rated_a'],
  auxiliary: ['charge_limit_a', 'absorption_v'],
}

/** The changes that put a record of the shelf at a place; where its values come from is said anew. */
export function shelved(design: Design, place: Place, record: object): Change[] {
  const kept = OF_THE_VEHICLE[place].map((key) => [key, getAt(design, `${place}.${key}`)] as const)
  const value = { ...record, ...Object.fromEntries(kept.filter(([, found]) => found !== undefined)) }
  const stays = (path: string) =>
    !path.startsWith(`${place}.`) || OF_THE_VEHICLE[place].includes(path.slice(place.length + 1))
  const stated = BY_DATASHEET[place].filter((key) => getAt(record, key) != null)
  const provenance = Object.fromEntries([
    ...Object.entries(design.provenance ?? {}).filter(([path]) => stays(path)),
    ...stated.map((key) => [`${place}.${key}`, 'datasheet']),
  ]) as Design['provenance']
  return [
    { path: place, value },
    { path: 'provenance', value: provenance },
  ]
}
