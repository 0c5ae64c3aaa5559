/** Pack every built asset beside itself, so that the server sends it packed without packing it each time. */
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

const folder = new URL('../../src/olvask/web/app/assets', import.meta.url).pathname
for (const name of readdirSync(folder)) {
  if (!/\.(js|css|svg|json)$/.test(name)) continue
  const path = join(folder, name)
  if (statSync(path).size < 600) continue
  const text = readFileSync(path)
  writeFileSync(`${path}.br`, brotliCompressSync(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }))
  writeFileSync(`${path}.gz`, gzipSync(text, { level: 9 }))
}
