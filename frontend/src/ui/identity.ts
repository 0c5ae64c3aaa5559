/** A name for something new that nothing else has: 122 random bits as RFC 9562 writes them, version 4. */
export function identity(): string {
  // Over plain HTTP, as phones of the workshop reach it, browsers have no `randomUUID`.
  const bits = crypto.getRandomValues(new Uint8Array(16))
  bits[6] = ((bits[6] ?? 0) & 0x0f) | 0x40
  bits[8] = ((bits[8] ?? 0) & 0x3f) | 0x80
  const hex = [...bits].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-')
}
