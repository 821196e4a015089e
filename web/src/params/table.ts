import { tableKind } from '$lib/schema/table-export';

export const match = (value: string): boolean => tableKind.safeParse(value).success;
