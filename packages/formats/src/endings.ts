/** Endings of files that bring meshes. */
export const MESH_ENDINGS: readonly string[] = ['obj', 'glb', 'gltf'];
/** Endings of pictures that materials of glTF files may have. */
export const PICTURE_ENDINGS: readonly string[] = ['png', 'jpg', 'jpeg'];
/** Endings of files that meshes need beside them. */
export const BESIDE_ENDINGS: readonly string[] = ['mtl', 'bin', ...PICTURE_ENDINGS];

/** All of them, as a field for files takes them. */
export const ACCEPTED_FILES = [...MESH_ENDINGS, ...BESIDE_ENDINGS].map((e) => `.${e}`).join(',');
