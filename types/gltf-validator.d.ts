declare module 'gltf-validator' {
  interface Report {
    readonly issues: {
      readonly numErrors: number
      readonly numWarnings: number
      readonly messages: readonly { readonly severity: number; readonly code: string }[]
    }
  }
  const validator: { validateBytes(bytes: Uint8Array): Promise<Report> }
  export default validator
}
