/** Whether a request means the thing as it is now; one that does not say what it means does (RFC 9110, 13.1.1). */
export function meansThis(request: Request, tag: string): boolean {
  const said = request.headers.get('if-match');
  return (
    said === null ||
    said.trim() === '*' ||
    said
      .split(',')
      .map((part) => part.trim())
      .includes(tag)
  );
}
