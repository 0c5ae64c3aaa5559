/**
 * In place of the package's ripple, which this theme never shows: its hook writes the package's base style into the page
 * anew whenever a button, tab or choice changes, and the browser then looks through every rule.
 */
export default {}
