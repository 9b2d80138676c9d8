// Scripts import other apps' scripts by the site's URLs, so the tests resolve them in the same way.

import { existsSync, readdirSync } from "node:fs";
import { register } from "node:module";
import { fileURLToPath, pathToFileURL } from "node:url";

const web = new URL("../../web/", import.meta.url);

export async function resolve(specifier, context, next) {
  const at = context.parentURL && specifier.startsWith(".") ? new URL(specifier, context.parentURL) : null;
  const served = at && /\/web\/\w+\/static\/(.+)$/.exec(at.href);
  if (served && !existsSync(fileURLToPath(at))) {
    for (const app of readdirSync(fileURLToPath(web))) {
      const there = new URL(`${app}/static/${served[1]}`, web);
      if (existsSync(fileURLToPath(there))) return next(there.href, context);
    }
  }
  return next(specifier, context);
}

if (process.argv.length) register(import.meta.url, pathToFileURL("./"));
