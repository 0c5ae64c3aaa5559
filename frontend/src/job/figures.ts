/** The figures that stand under the findings, by stage. */
import type { Stage } from '../app/router'

export const FIGURES: Partial<Record<Stage, string[]>> = {
  survey: ['match.direct_link_a', 'wake.rest_v', 'energy.recover_h'],
  match: [
    'match.allowed_output_a',
    'match.daily_floor_a',
    'match.alternator_share_a',
    'match.alternator_surplus_a',
    'energy.recover_h',
    'charger.heat_w',
  ],
  run: [
    'input.power_w',
    'supply.drop_v',
    'supply.drop_percent',
    'supply.loss_w',
    'delivery.drop_v',
    'charger.heat_w',
    'energy.recover_h',
  ],
  wake: [
    'wake.rest_v',
    'wake.run_unloaded_v',
    'wake.run_loaded_v',
    'wake.stop_window_low_v',
    'wake.stop_window_high_v',
    'wake.guard_v',
    'wake.back_v',
    'wake.guard_mohm',
  ],
  handover: ['idle.input_v', 'idle.input_a', 'output.voltage_v', 'energy.recover_h'],
}
