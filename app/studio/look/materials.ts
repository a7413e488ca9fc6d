/** Files that the look names: handed to the server to be kept, and read here. */
import { readCube } from '@glimbo/core/look/cube';
import { NO_CUBES, type Cubes, type Treatment } from '@glimbo/core/look/treatment';

/** Has a file kept. Gives the name under which it is; throws with a sentence. */
export async function keepMaterial(name: string, content: string | Blob): Promise<string> {
  const answer = await fetch(`/materials?name=${encodeURIComponent(name)}`, { method: 'POST', body: content }).catch(
    () => null,
  );
  const said = (await answer?.json().catch(() => null)) as { file?: string; problem?: string } | null;
  if (!said?.file) throw new Error(said?.problem ?? 'The server did not answer. Nothing was changed; try again.');
  return said.file;
}

/** The LUT of a treatment; none where it could not be had. */
export async function cubesHere({ lut }: Treatment): Promise<Cubes> {
  if (!lut) return NO_CUBES;
  const answer = await fetch(`/media/materials/${encodeURIComponent(lut.file)}`);
  if (!answer.ok) return NO_CUBES;
  return new Map([[lut.file, readCube(await answer.text())]]);
}
