/** What may be done with a motion sidecar. */

/** Not at all; in place of what the picture shows; or only where the picture was not to be trusted. */
export const SIDECAR_USES = ['no', 'replace', 'anchor'] as const;

export type SidecarUse = (typeof SIDECAR_USES)[number];
