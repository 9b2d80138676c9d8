// Of the page's own elements a script asks what it finds there; which element it is, is not checked. What is
// checked whole is what is ours: the values, classes and functions that the scripts hand to one another.

interface EventTarget {
  [name: string]: any;
}
interface Element {
  [name: string]: any;
}
interface Event {
  [name: string]: any;
}
interface Window {
  [name: string]: any;
}

/** Interrupted already, said without waiting. */
interface Promise<T> {
  over?: any;
}

declare class AudioWorkletProcessor {
  port: MessagePort;
}
declare function registerProcessor(name: string, kind: unknown): void;
