import { defineConfig } from '@playwright/test';
import base from './playwright.config';

/** `npm run soak`: a real browser is killed again and again. */
export default defineConfig({ ...base, testDir: 'tests/soak', reporter: [['list']] });
