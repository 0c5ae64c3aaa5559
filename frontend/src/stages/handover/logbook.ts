/** What can be noted in the logbook: words, or a reading in its unit. */
export const LOGBOOK = 'Logbook'

export interface LogKind {
  key: string
  label: string
  unit: string
}
const VISIT: LogKind = { key: 'visit', label: 'Visit: what was done', unit: '' }
export const KINDS: LogKind[] = [
  VISIT,
  { key: 'part', label: 'Part or setting changed', unit: '' },
  { key: 'firmware', label: 'Firmware', unit: '' },
  { key: 'access_code', label: 'Access code changed', unit: '' },
  { key: 'service_due', label: 'Next service due', unit: '' },
  { key: 'loop_mohm', label: 'Supply run, both ways', unit: 'mΩ' },
  { key: 'rest_start_v', label: 'Start battery, rested', unit: 'V' },
  { key: 'standby_ma', label: 'Drawn while parked', unit: 'mA' },
  { key: 'capacity_ah', label: "Auxiliary battery's capacity", unit: 'Ah' },
  { key: 'charge_percent', label: "Driver's diary: charge", unit: '%' },
]
export const kindOf = (key: string): LogKind => KINDS.find((item) => item.key === key) ?? { ...VISIT, key, label: key }
