// The screen stays on during a session, because a locked phone takes the microphone away.

/** Asks to keep the screen on; returns the release. A device that refuses (low battery) is left alone. */
export function keepScreenOn() {
  let lock = null;
  let isOver = false;
  const notice = document.querySelector("[data-screen-on]");
  const ask = async () => {
    if (isOver || document.hidden || !navigator.wakeLock) return;
    try {
      lock = await navigator.wakeLock.request("screen");
      if (isOver) lock.release();
    } catch {
      lock = null;
    }
    if (notice) notice.hidden = isOver || !lock;
  };
  // The browser releases it whenever the page is in the background.
  document.addEventListener("visibilitychange", ask);
  ask();
  return () => {
    isOver = true;
    document.removeEventListener("visibilitychange", ask);
    lock?.release().catch(() => {});
    if (notice) notice.hidden = true;
  };
}
