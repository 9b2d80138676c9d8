const PATIENCE_MS = 3000; // an older page may hold a store; who waits for it waits for nothing

/** What a store gives, or a TimeoutError where it takes too long. */
export const soon = (promise) =>
  Promise.race([
    promise,
    new Promise((_, reject) => setTimeout(() => reject(new DOMException("", "TimeoutError")), PATIENCE_MS)),
  ]);
