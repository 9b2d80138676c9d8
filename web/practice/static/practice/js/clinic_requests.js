// Requests from a device to the clinic.

import { csrfToken } from "../../ui/js/token.js";

const OPENING_MS = 120000;
const WAV = "data:audio/wav;base64,";

/** A recording as a data address: base64 of its WAV file. */
const asText = (recording) =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result);
    reader.readAsDataURL(recording);
  });

export class ClinicRequests {
  /** `page` is the practice page's own token. */
  constructor({ url, openedUrl, page }) {
    this.url = url;
    this.openedUrl = openedUrl;
    this.page = page;
  }

  post(kept, patience) {
    const form = new FormData();
    if (kept.entry) form.append("entry", JSON.stringify(kept.entry));
    else form.append("sealed", kept.sealed);
    form.append("sent_at", new Date().toISOString());
    if (kept.recording) form.append("recording", kept.recording, "try.wav");
    return this.ask(this.url, form, patience);
  }

  ask(url, form, patience) {
    const headers = { "X-CSRFToken": csrfToken(), "X-Practice-Page": this.page, Accept: "application/json" };
    return fetch(url, {
      method: "POST",
      body: form,
      headers,
      redirect: "manual",
      signal: AbortSignal.timeout(patience),
    });
  }

  /**
   * The content of a rejected entry: from this page, or decrypted by the clinic; null if it cannot be
   * decrypted now.
   */
  async opened({ entry, recording, sealed }) {
    if (entry) return { entry, recording: recording && (await asText(recording)) };
    const form = new FormData();
    form.append("sealed", sealed);
    try {
      const found = await (await this.ask(this.openedUrl, form, OPENING_MS)).json();
      return { entry: JSON.parse(found.entry), recording: found.recording && WAV + found.recording };
    } catch {
      return undefined;
    }
  }
}
