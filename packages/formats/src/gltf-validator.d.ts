declare module 'gltf-validator' {
  const validator: {
    validateBytes(bytes: Uint8Array): Promise<{
      issues: { messages: { severity: number; message: string }[] };
      info: { resources?: { image?: unknown }[] };
    }>;
  };
  export default validator;
}
