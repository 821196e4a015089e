import type { Component } from 'svelte';
import type { z } from 'zod';
import type { ExpirySet } from '../api/as-of-context.ts';
import type { ResourceName } from '../api/resource-name.ts';
import { needsQuotes } from '../measures/index.ts';

/** A view, said once: rail, keys, search, titles, addresses and the test of accessibility read it. */
export interface ViewDefinition {
  /** First part of its address, and name under which a changed key is kept */
  id: string;
  label: string;
  /** Single key that opens it, unless the user chose another */
  key: string;
  /** What it is a view of */
  subject: 'underlying' | 'universe' | 'none';
  /** Stands below the rule in the rail: reachable from anywhere, no question of the day */
  isAside?: boolean;
  /** Can be opened without its subject */
  isFree?: boolean;
  /** Parameters of its own in the address; what is malformed falls back to the default */
  parameters: z.ZodObject;
  /** Those of them that mean the same of another underlying; the others stay behind */
  ofAnyUnderlying: readonly string[];
  /** Words for what stays behind, by parameter */
  leftBehind?: Readonly<Record<string, string>>;
  /** Expiries that it shows where none are chosen; all unless it says so */
  opensWith?: ExpirySet;
  /** What it shows of an underlying */
  resources: readonly ResourceName[];
  /** The page of a view of an underlying; those with a route of their own have none */
  page?: () => Promise<{ default: Component }>;
}

/** What is to be shown of an underlying: what the view asks for, and the quotes where a link explains what rests on them. */
export function wantedResources(view: ViewDefinition, parameters: URLSearchParams): readonly ResourceName[] {
  if (!needsQuotes(parameters.get('workings') ?? '') || view.resources.includes('market')) return view.resources;
  return [...view.resources, 'market'];
}

/** Title of a page: what it is of, and the view. */
export function pageTitle(view: Pick<ViewDefinition, 'label'>, of?: string): string {
  return [of, view.label, 'Umwelt'].filter((part) => part !== undefined).join(' · ');
}

/** The view that an address belongs to. */
export function viewOfPath(views: readonly ViewDefinition[], path: string): ViewDefinition | undefined {
  const id = path.split('/')[1];
  return views.find((view) => view.id === id);
}
