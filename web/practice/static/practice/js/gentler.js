// A gentler day asks for fewer seconds.

/** What a try is asked for today: on a gentler day so much of the usual, in whole steps; its own
 * seconds on any other day, and where no seconds are asked for. */
export function secondsToday({ day, seconds, inSeconds }, { share, step_s: step }) {
  if (day !== "gentler" || !seconds || !inSeconds) return seconds;
  return Math.max(step, step * Math.floor((share * seconds) / step + 1e-9));
}
