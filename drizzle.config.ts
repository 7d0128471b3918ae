import { defineConfig } from 'drizzle-kit'

export default defineConfig({
  dialect: 'postgresql',
  schema: './src/server/store/schema.ts',
  out: './src/server/store/migrations',
})
