import { gzipSync } from 'node:zlib'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { defineConfig, type Plugin } from 'vite'
import react from '@vitejs/plugin-react'
import tailwindcss from '@tailwindcss/vite'

/** Puts a .gz beside each text asset, so that the server need not compress on the fly. */
function packed(): Plugin {
  return {
    name: 'packed',
    apply: 'build',
    writeBundle(options) {
      const folder = join(options.dir ?? 'dist', 'assets')
      for (const file of readdirSync(folder)) {
        if (/\.(js|css|svg)$/.test(file)) {
          writeFileSync(join(folder, `${file}.gz`), gzipSync(readFileSync(join(folder, file)), { level: 9 }))
        }
      }
    },
  }
}

export default defineConfig({
  plugins: [react(), tailwindcss(), packed()],
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 1500 },
  server: { proxy: { '/api': 'http://127.0.0.1:8460' } },
})
