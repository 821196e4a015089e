import { VIEWS } from '$lib/views';

/** Views that the common page of an underlying shows. */
export const match = (value: string): boolean => VIEWS.some((view) => view.id === value && view.page !== undefined);
