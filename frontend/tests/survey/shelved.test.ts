/** A record of the shelf put into a job: what was found of the vehicle is not a thing of the record. */
import { expect, it } from 'vitest'
import type { Design } from '../../src/api/types'
import { changed } from '../../src/job/change'
import { shelved } from '../../src/stages/survey/shelved'

const FOUND = {
  vehicle: {
    system_v: 12,
    alternator: { name: '', rated_a: 90, regulation: 'fixed', hot_idle_share: 0.4, loads_idle_a: 41, sag_mohm: 4 },
  },
  auxiliary: { name: '', capacity_ah: 92, charge_limit_a: 100, place: 'outside', temperature_min_c: -12 },
  provenance: {
    'vehicle.alternator.loads_idle_a': 'measured',
    'vehicle.alternator.hot_idle_share': 'measured',
    'auxiliary.capacity_ah': 'measured',
    'auxiliary.temperature_min_c': 'measured',
    'vehicle.readings.rest_v': 'measured',
  },
} as unknown as Design

it('keeps what the vehicle draws and how far its posts fall, and takes the rest with its origin from the record', () => {
  const record = {
    name: 'A 180',
    rated_a: 180,
    regulation: 'managed',
    hot_idle_share: 0.55,
    loads_idle_a: 25,
    sag_mohm: null,
  }
  const after = changed(FOUND, shelved(FOUND, 'vehicle.alternator', record))
  expect(after.vehicle.alternator).toEqual({ ...record, loads_idle_a: 41, sag_mohm: 4 })
  expect(after.auxiliary).toBe(FOUND.auxiliary)
  expect(after.provenance).toEqual({
    'vehicle.alternator.loads_idle_a': 'measured',
    'vehicle.alternator.rated_a': 'datasheet',
    'auxiliary.capacity_ah': 'measured',
    'auxiliary.temperature_min_c': 'measured',
    'vehicle.readings.rest_v': 'measured',
  })
})

it('keeps where the battery stands and how cold it gets there, and no limit of the battery before', () => {
  const record = {
    name: 'Cairn',
    capacity_ah: 200,
    charge_limit_a: null,
    absorption_v: 14.2,
    place: '',
    temperature_min_c: null,
  }
  const after = changed(FOUND, shelved(FOUND, 'auxiliary', record))
  expect(after.auxiliary).toEqual({ ...record, place: 'outside', temperature_min_c: -12 })
  expect(after.provenance).toEqual({
    'vehicle.alternator.loads_idle_a': 'measured',
    'vehicle.alternator.hot_idle_share': 'measured',
    'auxiliary.temperature_min_c': 'measured',
    'auxiliary.absorption_v': 'datasheet',
    'vehicle.readings.rest_v': 'measured',
  })
})
