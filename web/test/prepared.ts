/** What `./test` has made for tests to begin with, by the environment; see database/make-templates. */
export function prepared(name: 'DATABASE_URL' | 'TEMPLATE_EMPTY' | 'TEMPLATE_TODAY' | 'TEST_PICTURES'): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set: "./test PATH" runs single files with all that they need`);
  return value;
}
