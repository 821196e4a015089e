import type { Picture } from '../api/picture.ts';

/** Data of a page from the JSON that its server part sent; both are of one build, so the shape need not be checked. */
export function pageData(pictureText: string): { picture: Picture } {
  return { picture: JSON.parse(pictureText) as Picture };
}
