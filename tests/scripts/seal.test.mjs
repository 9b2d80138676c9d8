// Encryption: only the right key opens it. The server's half is tested in Python.

import assert from "node:assert/strict";
import { test } from "node:test";

import {
  Aes256Gcm,
  CipherSuite,
  DhkemP256HkdfSha256,
  HkdfSha256,
} from "../../web/ui/static/ui/vendor/hpke.js";
import { Seal } from "../../web/practice/static/practice/js/seal.js";

const suite = new CipherSuite({
  kem: new DhkemP256HkdfSha256(),
  kdf: new HkdfSha256(),
  aead: new Aes256Gcm(),
});
const info = new TextEncoder().encode("still-reed: waits on a device").buffer;
const POINT_BYTES = 65;

async function pair() {
  const keys = await suite.kem.generateKeyPair();
  const point = new Uint8Array(await suite.kem.serializePublicKey(keys.publicKey));
  return { keys, text: btoa(String.fromCharCode(...point)) };
}

async function open(keys, bytes) {
  const enc = bytes.slice(0, POINT_BYTES);
  return new Uint8Array(
    await suite.open({ recipientKey: keys.privateKey, enc, info }, bytes.slice(POINT_BYTES)),
  );
}

test("an entry and its sound come out as they went in", async () => {
  const { keys, text } = await pair();
  const sealed = await new Seal(text).of(
    { kind: "sound", words: "ü" },
    new Blob([new Uint8Array([1, 2, 3])]),
  );
  const all = await open(keys, await sealed.arrayBuffer());
  const length = new DataView(all.buffer).getUint32(0);
  assert.deepEqual(JSON.parse(new TextDecoder().decode(all.slice(4, 4 + length))), {
    kind: "sound",
    words: "ü",
  });
  assert.deepEqual([...all.slice(4 + length)], [1, 2, 3]);
});

test("the same twice looks different, and another key opens neither", async () => {
  const { text } = await pair();
  const { keys: others } = await pair();
  const seal = new Seal(text);
  const [first, second] = [
    await seal.asText({ flags: ["strain"] }),
    await seal.asText({ flags: ["strain"] }),
  ];
  assert.notEqual(first, second);
  const bytes = Uint8Array.from(atob(first), (letter) => letter.charCodeAt(0));
  await assert.rejects(open(others, bytes.buffer));
});

test("a key that is none seals nothing, and stops no page", async () => {
  for (const key of [btoa("no point"), "no base64!", undefined]) {
    await assert.rejects(new Seal(key).of({ kind: "begun" }));
  }
});
