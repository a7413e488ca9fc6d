/** The colours of subjects, as style sheets know them. */
import type { Tint } from '~/model/subject';

/** On the sheet, by day and by night. */
export const sheetTint = (tint: Tint) => `var(--tint-${tint})`;
/** Over a picture. */
export const litTint = (tint: Tint) => `var(--lit-${tint})`;
