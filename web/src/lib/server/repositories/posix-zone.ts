/** Zone as PostgreSQL takes it: offsets there have the opposite sign of ISO 8601. */
export function posixZone(zone: string): string {
  const offset = /^([+-])(\d{2}:\d{2})$/.exec(zone);
  return offset ? `${offset[1] === '+' ? '-' : '+'}${offset[2]}` : zone;
}
