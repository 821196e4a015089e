/**
 * Address of a drawing as a picture.
 * @throws Error when nothing is drawn
 */
export async function svgPicture(
  drawing: SVGSVGElement | undefined,
  format: 'svg' | 'png',
  { width, height }: { width: number; height: number },
): Promise<string> {
  if (!drawing) throw new Error('nothing is drawn');
  const text = new XMLSerializer().serializeToString(drawing);
  const address = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  if (format === 'svg') return address;
  const image = new Image();
  image.src = address;
  await image.decode();
  const canvas = document.createElement('canvas');
  // Twice the size of the screen, sharp in print.
  [canvas.width, canvas.height] = [2 * width, 2 * height];
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return canvas.toDataURL('image/png');
}
