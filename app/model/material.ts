/** Files that takes name, as they are kept: a name for people, a mark of the content, and what they are. */

const MATERIAL = /^[\p{L}\p{N} _-]{1,60}\.[0-9a-f]{12}\.(cube|png|svg)$/u;

/** Whether a text is the name of a kept file, and no way elsewhere. */
export const isMaterial = (file: string) => MATERIAL.test(file);

/** What a kept file was called. */
export const nameOfMaterial = (file: string) => file.replace(/\.[0-9a-f]{12}(?=\.\w+$)/, '');
