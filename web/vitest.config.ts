import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  server: { fs: { allow: ['..'] } },
  test: {
    environment: 'happy-dom',
    // What is left of one file while the next begins asks nobody.
    environmentOptions: {
      happyDOM: { settings: { fetch: { virtualServers: [{ url: 'http://localhost:3000', directory: '/nowhere' }] } } },
    },
    setupFiles: ['src/testing/setup.ts'],
    include: ['src/**/*.test.ts'],
    restoreMocks: true,
    pool: 'threads',
    isolate: false,
    testTimeout: 600_000,
  },
})
