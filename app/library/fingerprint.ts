/** The fingerprint of a file in the browser: the same as the server makes of it (docs/formats/fingerprint.md). */
import { fingerprintParts } from '@glimbo/core/gather/fingerprint';

/** SHA-256 in hexadecimal; null where the browser gives no cryptography (a page that is not secure). */
export async function fingerprintOf(file: File): Promise<string | null> {
  if (!globalThis.crypto?.subtle) return null;
  const parts = fingerprintParts(file.size).map(([from, to]) => file.slice(from, to));
  const bytes = await new Blob([String(file.size), ...parts]).arrayBuffer();
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return [...digest].map((b) => b.toString(16).padStart(2, '0')).join('');
}
