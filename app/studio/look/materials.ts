/** Files that the look names: handed to the server to be kept. */

/** Has a file kept. Gives the name under which it is; throws with a sentence. */
export async function keepMaterial(name: string, content: string | Blob): Promise<string> {
  const answer = await fetch(`/materials?name=${encodeURIComponent(name)}`, { method: 'POST', body: content }).catch(
    () => null,
  );
  const said = (await answer?.json().catch(() => null)) as { file?: string; problem?: string } | null;
  if (!said?.file) throw new Error(said?.problem ?? 'The server did not answer. Nothing was changed; try again.');
  return said.file;
}
