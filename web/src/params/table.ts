import { tableKind } from '$lib/api/table-export';

export const match = (value: string): boolean => tableKind.safeParse(value).success;
