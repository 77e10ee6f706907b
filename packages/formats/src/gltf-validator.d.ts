declare module 'gltf-validator' {
  const validator: {
    validateBytes(bytes: Uint8Array): Promise<{ issues: { messages: { severity: number; message: string }[] } }>;
  };
  export default validator;
}
