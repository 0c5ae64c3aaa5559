/** What the stations of the path are called and how they are drawn. */
import { fieldOf } from '../../ui/fields'
import type { Branch, Cable, Design, Device, Joint } from '../../api/types'
import type { Station } from './geometry'
import { standing, unitSaid } from '../../ui/units'
import { asThere, entered } from '../../ui/locale'

export const CHEMISTRY: Record<string, string> = { flooded: 'flooded', agm: 'AGM', gel: 'gel', lfp: 'LFP' }
const PLACE: Record<string, string> = { cabin: 'cabin', under_floor: 'under floor', engine_bay: 'engine bay' }
const FAMILY: Record<string, string> = {
  blade: 'blade',
  sf30: 'SF30',
  sf51: 'SF51',
  cube: 'cube',
  class_t: 'Class T',
  cartridge: '10 × 38',
  nh: 'NH',
  breaker: 'breaker',
}

/** The name of a joint; where it has none, what it is. */
function jointName(joint: Joint): string {
  const forms = fieldOf('run.pieces.joint.form').choices ?? []
  return joint.name?.trim() || (forms.find((form) => form.value === joint.form)?.label ?? 'joint')
}
/** What a station is called. */
export function title(design: Design, station: Station): string {
  const { vehicle, auxiliary, charger } = design
  switch (station.kind) {
    case 'alternator':
      return vehicle.drive === 'converter' ? 'Converter' : 'Alternator'
    case 'start_battery':
      return 'Start battery'
    case 'charger':
      if (!charger) return 'no unit yet'
      return (design.units ?? 1) > 1 ? `${design.units} × ${charger.name}` : charger.name
    case 'auxiliary':
      return auxiliary?.name || 'Auxiliary'
    case 'cable': {
      const cable = station.piece as Cable
      const many = (cable.parallel ?? 1) > 1 ? `${cable.parallel} × ` : ''
      return station.x1 - station.x0 > 74
        ? `${many}${asThere(cable.size)} · ${long(cable.length_m)}`
        : `${many}${asThere(cable.size)}`
    }
    case 'device':
      return `${entered((station.piece as Device).rating_a)} A`
    case 'branch':
      return (station.piece as Branch).name?.trim() || 'branch'
    default:
      return jointName(station.piece as Joint)
  }
}
const long = (metres: number) => `${entered(Number(standing(metres, 'm').toFixed(2)))} ${unitSaid('m')}`
/** What stands under it, in a few words. */
export function detail(design: Design, station: Station): string {
  const { vehicle, auxiliary, charger } = design
  switch (station.kind) {
    case 'alternator':
      return `${entered(vehicle.alternator.rated_a)} A ${vehicle.drive === 'converter' || station.x1 - station.x0 < 70 ? '' : (vehicle.alternator.regulation ?? '')}`
    case 'start_battery':
      return `${entered(vehicle.start_battery?.capacity_ah ?? 0)} Ah ${CHEMISTRY[vehicle.start_battery?.chemistry ?? 'flooded']}`
    case 'charger':
      return charger
        ? `${charger.isolated ? 'isolated' : 'non-isolated'} · ${entered(design.current_limit_a ?? charger.output_a)} A`
        : 'choose in Match'
    case 'auxiliary':
      return `${entered(auxiliary?.capacity_ah ?? 0)} Ah ${CHEMISTRY[auxiliary?.chemistry ?? 'agm']}`
    case 'cable': {
      const cable = station.piece as Cable
      return station.x1 - station.x0 > 74
        ? `${PLACE[cable.place ?? 'cabin']}${cable.conduit ? ', conduit' : ''}`
        : long(cable.length_m)
    }
    case 'device':
      return FAMILY[(station.piece as Device).family ?? 'sf30'] ?? ''
    case 'branch':
      return `${entered((station.piece as Branch).current_a ?? 0)} A off`
    default:
      return `${entered((station.piece as Joint).resistance_mohm ?? 0)} mΩ`
  }
}
/** Which side it belongs to, as a colour. */
export function side(station: Station): string {
  return station.run === 'delivery' || station.kind === 'auxiliary' ? 'teal' : 'copper'
}
/** Thicker copper is drawn thicker. */
export function thickness(station: Station): number {
  const size = String((station.piece as Cable).size)
  const gauge = /^(\d+)(\/0)? AWG$/.exec(size)
  const area = gauge
    ? gauge[2]
      ? 40 + 13 * Number(gauge[1])
      : 53 * 0.7943 ** Number(gauge[1])
    : Number.parseFloat(size)
  return Math.min(12, 2.5 + Math.sqrt(area))
}
