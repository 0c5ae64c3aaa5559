/** Sentences as they are set: a number stays on the line of its unit. */
const UNIT_SIGNS = 'V|A|Ah|W|mV|mA|mΩ|Ω|m|mm|mm²|AWG|ft|°C|°F|%|h|min|s|N·m|lb·in|kWh|mV/K'
const BEFORE_UNIT = new RegExp(`(?<=\\d) (?=(?:${UNIT_SIGNS})(?![\\p{L}\\d²/]))`, 'gu')
export const AFTER_NUMBER = '\u00a0' // a space that no line ends at

/** A sentence whose numbers keep their units beside them. */
export function tied(text: string): string {
  return text.replace(BEFORE_UNIT, AFTER_NUMBER)
}
