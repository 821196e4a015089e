import { toast } from 'svelte-sonner';
import type { Changes } from './changes.svelte.ts';

const isText = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.matches('textarea, input:not([type=range], [type=checkbox], [type=radio])'));

/**
 * Takes back and does again by the keys that every program has for it, and says what. Where text is typed they are the text's own.
 * @param at path of the page
 * @returns whether the event was one of these keys
 */
export function undoKeys(event: KeyboardEvent, changes: Changes, at: string): boolean {
  if (!(event.ctrlKey || event.metaKey) || event.altKey || isText(event.target)) return false;
  const key = event.key.toLowerCase();
  const isUndo = key === 'z' && !event.shiftKey;
  const isRedo = key === 'y' || (key === 'z' && event.shiftKey);
  if (!isUndo && !isRedo) return false;
  const what = isUndo ? changes.undo(at) : changes.redo(at);
  if (what === undefined)
    toast(isUndo ? 'There is nothing to take back in this view.' : 'There is nothing to do again.');
  else toast(`${isUndo ? 'Taken back' : 'Done again'}: ${what}`);
  event.preventDefault();
  return true;
}
