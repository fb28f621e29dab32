import './policy.js';
import { createRoot } from 'react-dom/client';
import './page.css';
import './level.css';
import './below.css';
import './panel.css';
import './dialog.css';
import { Loft } from './model/loft.js';
import { App } from './parts/App.js';

const loft = new Loft();
const root = createRoot(document.querySelector('#loft')!);
root.render(<App loft={loft} />);
// For those who want to look from the console, and for checks.
Object.assign(window, { loft });
await loft.open().catch((error: unknown) => loft.fail(error));
