/** Where the page stands, as far as what is tested looks at it. */
export const page = $state({
  url: new URL('http://localhost/skew/FJRD'),
  params: {} as Record<string, string>,
  data: {} as Record<string, unknown>,
});
