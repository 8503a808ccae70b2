// Photos: made small on the device that took them, and without what it wrote into them of where that was.

/** The longer side of what is kept, px. */
const SIDE = 1600;

/** A photo as it is sent; nothing where this browser cannot read it. */
export async function small(file) {
  const drawn = await createImageBitmap(file, { imageOrientation: 'from-image' }).catch(() => null);
  if (!drawn) return null;
  const by = Math.min(1, SIDE / Math.max(drawn.width, drawn.height));
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [Math.max(Math.round(by * drawn.width), 1), Math.max(Math.round(by * drawn.height), 1)];
  canvas.getContext('2d').drawImage(drawn, 0, 0, canvas.width, canvas.height);
  drawn.close();
  return new Promise((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.82));
}
