const PATIENCE_MS = 3000; // An older page may block a store; waiting for it would never end.

/** The value of a promise, or a TimeoutError if it takes too long. */
export const soon = (promise) =>
  Promise.race([
    promise,
    new Promise((_, reject) => setTimeout(() => reject(new DOMException("", "TimeoutError")), PATIENCE_MS)),
  ]);
