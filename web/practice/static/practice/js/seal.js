// Entries that wait on this device are encrypted (RFC 9180) with a client's key whose private half is only on
// the clinic's server: a person with the device can send them, but not read them.

import { Aes256Gcm, CipherSuite, DhkemP256HkdfSha256, HkdfSha256 } from "../../ui/vendor/hpke.js";

const SUITE = { kem: new DhkemP256HkdfSha256(), kdf: new HkdfSha256(), aead: new Aes256Gcm() };
const PURPOSE = new TextEncoder().encode("still-reed: waits on a device");
const LENGTH_BYTES = 4;

export class Seal {
  /** @param {string} key the client's, base64 of its point */
  constructor(key) {
    this.suite = new CipherSuite(SUITE);
    this.key = this.read(key);
    this.key.catch(() => {}); // Reported when something is encrypted.
  }

  async read(key) {
    return this.suite.kem.deserializePublicKey(fromText(key).buffer);
  }

  /**
   * An entry and its sound, if it has one.
   * @param {any} entry
   * @param {Blob | null} sound
   */
  async of(entry, sound = null) {
    const words = new TextEncoder().encode(JSON.stringify(entry));
    const all = new Uint8Array(LENGTH_BYTES + words.length + (sound?.size ?? 0));
    new DataView(all.buffer).setUint32(0, words.length);
    all.set(words, LENGTH_BYTES);
    if (sound) all.set(new Uint8Array(await sound.arrayBuffer()), LENGTH_BYTES + words.length);
    const to = { recipientPublicKey: await this.key, info: PURPOSE.buffer };
    const { enc, ct } = await this.suite.seal(to, all.buffer);
    return new Blob([enc, ct]);
  }

  /** The same as text, for content no longer than a sentence. */
  async asText(entry) {
    const sealed = new Uint8Array(await (await this.of(entry)).arrayBuffer());
    return btoa(String.fromCharCode(...sealed));
  }
}

const fromText = (text) => Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));
