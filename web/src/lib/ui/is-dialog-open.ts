/** Whether a dialog lies over the page: keys are its own then. */
export function isDialogOpen(): boolean {
  return document.querySelector('[role=dialog][aria-modal=true][data-state=open]') !== null;
}
