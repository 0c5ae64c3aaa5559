/** A photograph made small before it leaves the phone. */
const LONG_SIDE = 1600

/** As JPEG in a data address; throws where the file is no picture. */
export async function small(file: File): Promise<string> {
  const bitmap = await createImageBitmap(file)
  const scale = Math.min(1, LONG_SIDE / Math.max(bitmap.width, bitmap.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(bitmap.width * scale)
  canvas.height = Math.round(bitmap.height * scale)
  canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
  bitmap.close()
  return canvas.toDataURL('image/jpeg', 0.82)
}
