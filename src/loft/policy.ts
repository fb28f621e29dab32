import { config } from 'zod';

// The page's policy allows no code that is made of text. It has to be said before any schema is made.
config({ jitless: true });
