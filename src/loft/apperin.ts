// The library as a module of its own, so that abilities of a game find the one that the page plays with.
export * from 'apperin';
