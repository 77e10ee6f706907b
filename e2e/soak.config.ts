import { defineConfig } from '@playwright/test';
import base from './playwright.config.ts';

// An hour of trials that kill, fill and race; not part of the tests. SOAK_MINUTES and SOAK_SEED change its length and its chance.
export default defineConfig({ ...base, testMatch: 'soak.ts', reporter: 'list', retries: 0, timeout: 0 });
