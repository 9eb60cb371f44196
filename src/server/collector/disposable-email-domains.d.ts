declare module 'disposable-email-domains' {
  const domains: readonly string[];
  export default domains;
}
