/** A query with its question mark, empty for none; what may stand there as it is stays readable. */
export function queryText(parameters: URLSearchParams): string {
  const query = parameters
    .toString()
    .replaceAll('%2C', ',')
    .replaceAll('%3A', ':')
    .replaceAll('%3B', ';')
    .replaceAll('%2F', '/')
    .replaceAll('%40', '@')
    .replaceAll('%7E', '~');
  return query === '' ? '' : `?${query}`;
}
