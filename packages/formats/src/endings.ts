/** Endings of files that bring meshes. */
export const MESH_ENDINGS: readonly string[] = ['obj', 'glb', 'gltf'];
/** Endings of files that meshes need beside them. */
export const BESIDE_ENDINGS: readonly string[] = ['mtl', 'bin', 'png', 'jpg', 'jpeg'];

/** All of them, as a field for files takes them. */
export const ACCEPTED_FILES = [...MESH_ENDINGS, ...BESIDE_ENDINGS].map((e) => `.${e}`).join(',');
