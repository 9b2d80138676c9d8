// Seconds in the server's rounding, so that a clock and its sentence never differ: halfway between two tenths
// it takes the even one, while toFixed takes the larger.

/** `14.2`; 2.25 gives `2.2`, and 2.75 gives `2.8`. */
export const tenths = (seconds) =>
  ((seconds * 4) % 4 === 1 ? Math.floor(seconds * 10) / 10 : seconds).toFixed(1);
