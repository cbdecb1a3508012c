import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  server: { fs: { allow: ['..'] } },
  test: {
    environment: 'happy-dom',
    setupFiles: ['src/testing/setup.ts'],
    include: ['src/**/*.test.ts'],
    restoreMocks: true,
    pool: 'threads',
    isolate: false,
    testTimeout: 600_000,
  },
})
