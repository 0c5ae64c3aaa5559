/** Words for the choices of the model. */
import type { Option } from './ChoiceField.vue'

const options = (pairs: [unknown, string][]): Option[] => pairs.map(([value, label]) => ({ value, label }))

export const SYSTEM = options([[12, '12 V'], [24, '24 V']])
export const DRIVE = options([['engine', 'engine'], ['converter', 'hybrid, electric']])
export const BODY = options([['metal_bonded', 'metal, bonded'], ['mixed', 'mixed or composite'], ['boat', 'boat'], ['unknown', 'unknown']])
export const REGULATION = options([['fixed', 'fixed'], ['compensated', 'temperature-compensated'], ['managed', 'engine-managed']])
export const CHEMISTRY = options([['flooded', 'flooded lead-acid'], ['agm', 'AGM'], ['gel', 'gel'], ['lfp', 'LFP']])
export const NOMINAL = options([[12, '12 V'], [24, '24 V'], [48, '48 V']])
export const PLACE = options([['cabin', 'cabin'], ['under_floor', 'under floor'], ['engine_bay', 'engine bay']])
export const MOUNT = options([['cabin', 'cabin, free air'], ['cupboard', 'cupboard'], ['under_floor', 'under floor'], ['engine_bay', 'engine bay']])
export const METAL = options([['copper', 'copper'], ['cca', 'copper-clad aluminium']])
export const INSULATION = options([[70, '70 °C'], [75, '75 °C'], [90, '90 °C'], [105, '105 °C'], [125, '125 °C']])
export const GROUPED = options([[1, 'alone'], [2, '2 circuits'], [3, '3 circuits'], [4, '4 circuits'], [5, '5 circuits'], [6, '6 circuits']])
export const YES_NO = options([[false, 'no'], [true, 'yes']])
export const SCHOOL = options([['enclosed', 'enclosed wiring'], ['free_air', 'free air']])
export const BUDGET = options([['surplus', 'hot-idle surplus'], ['share', 'share of rated']])
export const OPEN_CHEMISTRY = options([[null, 'not known'], ['flooded', 'flooded lead-acid'], ['agm', 'AGM'], ['gel', 'gel'], ['lfp', 'LFP']])
export const EXISTING = options([
  ['link', 'relay that links the batteries'], ['panel', 'panel with its own link'], ['fridge_feed', 'fridge fed from the engine side'], ['socket_wire', 'trailer-socket charge wire'],
  ['built_in_charger', 'small built-in charger'], ['mains_charger', 'mains charger'], ['monitor', 'battery monitor'], ['maintainer', 'start-battery maintainer'],
])
export const SOLAR_INTO = options([['controller', 'its own controller'], ['second_input', "unit's second input"], ['start_side', 'the start battery']])
export const LIFTER = options([['solar', 'solar panel'], ['maintainer', 'maintainer'], ['other', 'something else']])
export const SOURCE_POINT = options([['battery_post', 'start battery post'], ['alternator_stud', 'alternator stud'], ['fused_stud', 'fused stud in the vehicle']])
export const PARALLEL = options([[1, 'one'], [2, '2 in parallel'], [3, '3 in parallel'], [4, '4 in parallel']])
export const STRAND = options([['class_5', 'fine, class 5'], ['class_2', 'coarse, class 2']])
export const FORM = options([['joint', 'bolted joint'], ['bus_bar', 'bus bar'], ['connector', 'connector'], ['plug', 'plug and socket']])
export const FEEDS = options([['unit', 'another unit'], ['fan', 'fan'], ['signal', 'signal wire'], ['sense', 'sense wire'], ['load', 'load']])
export const PROTECTION = options([['fuse', 'fuses'], ['fuse_isolator', 'fuse and isolator'], ['breaker', 'breakers']])
