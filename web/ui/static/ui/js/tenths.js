// Seconds as the server writes them, so that a clock and the sentence beside it never differ: halfway
// between two tenths it takes the even one, where toFixed takes the larger.

/** `14.2`; the tie of 2.25 is `2.2`, that of 2.75 is `2.8`. */
export const tenths = (seconds) =>
  ((seconds * 4) % 4 === 1 ? Math.floor(seconds * 10) / 10 : seconds).toFixed(1);
