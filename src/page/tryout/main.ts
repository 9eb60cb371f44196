export default (_script: HTMLScriptElement, _usual: () => void): Promise<void> => Promise.resolve();
