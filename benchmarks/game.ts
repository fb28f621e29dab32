/** What a small game imports: its bundle is measured. */
export { openStage, stepper } from 'apperin';
export { keyboard } from 'apperin/browser';
