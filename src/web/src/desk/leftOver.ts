import type { Json, PromotionPage } from '../api/client';
import { isSame } from '../ui/same';

/** A draft that is kept in this browser until the server has it, and the revision it was written on. */
export type Local = { document: Json; revision: number };

// Each window keeps its own, so that none writes over another's; a window keeps its name across reloads.
const WINDOW = 'rapid-ledger.window';
const windowName = () => {
  const known = sessionStorage.getItem(WINDOW) ?? Math.random().toString(36).slice(2, 10);
  sessionStorage.setItem(WINDOW, known);
  return known;
};

const prefixOf = (id: string) => `rapid-ledger.draft.${id} `;
const keyOf = (id: string) => prefixOf(id) + windowName();

export const keepHere = (id: string, local: Local) => localStorage.setItem(keyOf(id), JSON.stringify(local));

export const forgetHere = (id: string) => localStorage.removeItem(keyOf(id));

/**
 * What an earlier visit could not bring to the server: this window's own, else one that another window left, which is taken over.
 * None, where it says what the server has.
 */
export function leftOver(page: PromotionPage): Local | null {
  const own = keyOf(page.id);
  const keys = Object.keys(localStorage).filter((key) => key.startsWith(prefixOf(page.id)));
  for (const key of keys.sort((left, right) => Number(right === own) - Number(left === own))) {
    const local = read(key);
    if (local === null || isSame(local.document, page.document)) continue;
    if (key !== own) {
      localStorage.removeItem(key);
      keepHere(page.id, local);
    }
    return local;
  }
  return null;
}

function read(key: string): Local | null {
  try {
    const local = JSON.parse(localStorage.getItem(key) ?? 'null') as Local | null;
    return local?.document ? local : null;
  } catch {
    return null;
  }
}
