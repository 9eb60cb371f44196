declare module 'disposable-email-domains/index.js' {
  const domains: readonly string[];
  export default domains;
}
declare module 'disposable-email-domains/wildcard.js' {
  const domains: readonly string[];
  export default domains;
}
