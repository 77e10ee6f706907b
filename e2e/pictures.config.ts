import { defineConfig } from '@playwright/test';
import base from './playwright.config.ts';

/** How soon the first pictures come, and how often one is drawn while something is dragged; printed, nothing is asserted. */
export default defineConfig({ ...base, testMatch: 'pictures.ts', workers: 1, retries: 0, timeout: 600_000, reporter: 'list' });
