/** What can be noted in the logbook: words, or a reading in its unit. */
export const LOGBOOK = 'Logbook'

export interface LogKind {
  key: string
  label: string
  unit: string
  /** A usual value, for the example where one cannot be read. */
  such: number
}
const VISIT: LogKind = { key: 'visit', label: 'Visit: what was done', unit: '', such: 0 }
export const KINDS: LogKind[] = [
  VISIT,
  { key: 'part', label: 'Part or setting changed', unit: '', such: 0 },
  { key: 'firmware', label: 'Firmware', unit: '', such: 0 },
  { key: 'access_code', label: 'Access code changed', unit: '', such: 0 },
  { key: 'service_due', label: 'Next service due', unit: '', such: 0 },
  { key: 'loop_mohm', label: 'Supply run, both ways', unit: 'mΩ', such: 12 },
  { key: 'rest_start_v', label: 'Start battery, rested', unit: 'V', such: 12.6 },
  { key: 'standby_ma', label: 'Drawn while parked', unit: 'mA', such: 30 },
  { key: 'capacity_ah', label: "Auxiliary battery's capacity", unit: 'Ah', such: 98 },
  { key: 'charge_percent', label: "Driver's diary: charge", unit: '%', such: 80 },
]
export const kindOf = (key: string): LogKind => KINDS.find((item) => item.key === key) ?? { ...VISIT, key, label: key }
