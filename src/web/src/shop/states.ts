/** What can be done to a saved promotion. */
export type StateChange = 'pause' | 'retire' | 'resume';

/** What leads back to a state. */
export const WAY_BACK: Record<string, StateChange> = { live: 'resume', paused: 'pause', archived: 'retire' };
