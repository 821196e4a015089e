/** What a view can ask for of an underlying at an instant. */
export const RESOURCES = ['surface', 'past', 'market'] as const;
export type ResourceName = (typeof RESOURCES)[number];
