import type { Color } from 'three';
import { BackSide, MeshBasicMaterial, type Material } from 'three';
import type { StageShading } from '../../state/ui-slice.ts';

/** Size of a square of the checker: metres, or a part of the unit square of uv. */
const CELL = 0.1;

/** Where the shader takes the places of the checker from. */
const PLACES: Partial<Record<StageShading, string>> = {
  'checker-rest': 'position',
  'checker-uv': 'vec3( uv, 0.0 )',
  'checker-world': '( modelMatrix * placed ).xyz',
};

const isChecker = (shading: StageShading): boolean => shading in PLACES;

/**
 * Gives a material another look: a checker in space, at rest or by uv, which shows at a glance where a surface swims or is
 * stretched; or which side of each face is looked at.
 * @param stored whether the places of the checker come as colours of the vertices
 */
export function dressUp(material: Material, shading: StageShading, stored: boolean): void {
  if (shading === 'facing') {
    material.onBeforeCompile = (shader) => {
      shader.fragmentShader = shader.fragmentShader.replace(
        '#include <color_fragment>',
        'diffuseColor.rgb = gl_FrontFacing ? vec3( 0.52, 0.5, 0.45 ) : vec3( 0.62, 0.05, 0.12 );',
      );
    };
  } else if (isChecker(shading)) {
    const place = stored ? 'color' : PLACES[shading];
    material.onBeforeCompile = (shader) => {
      shader.vertexShader = shader.vertexShader
        .replace('#include <common>', '#include <common>\nvarying vec3 vSquare;')
        // A little aside, so that a flat surface does not lie between two squares.
        .replace(
          '#include <project_vertex>',
          `#include <project_vertex>
          vec4 placed = vec4( transformed, 1.0 );
          #ifdef USE_INSTANCING
            placed = instanceMatrix * placed;
          #endif
          vSquare = ${place} / ${CELL.toFixed(3)} + vec3( 0.013, 0.017, 0.019 );`,
        );
      shader.fragmentShader = shader.fragmentShader
        .replace('#include <common>', '#include <common>\nvarying vec3 vSquare;')
        .replace(
          '#include <color_fragment>',
          `vec3 square = floor( vSquare );
          float isDark = mod( square.x + square.y + square.z, 2.0 );
          diffuseColor.rgb = mix( vec3( 0.72, 0.62, 0.46 ), vec3( 0.16, 0.11, 0.08 ), isDark );`,
        );
    };
  }
  material.customProgramCacheKey = () => `${shading} ${stored}`;
}

/** How wide the line round what is picked is (pixels). */
const RIM = 2.5;

/** The line round what is picked: its back faces, a little larger on the screen than it is. */
export function rimMaterial(colour: Color, size: { width: number; height: number }): MeshBasicMaterial {
  const material = new MeshBasicMaterial({ color: colour, side: BackSide, toneMapped: false });
  material.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader.replace(
      '#include <project_vertex>',
      `#include <project_vertex>
      vec3 outward = normal;
      #ifdef USE_INSTANCING
        outward = mat3( instanceMatrix ) * outward;
      #endif
      vec2 away = ( projectionMatrix * vec4( normalMatrix * outward, 0.0 ) ).xy;
      gl_Position.xy += normalize( away + vec2( 1e-9 ) ) * gl_Position.w * vec2( ${((2 * RIM) / size.width).toFixed(6)}, ${((2 * RIM) / size.height).toFixed(6)} );`,
    );
  };
  material.customProgramCacheKey = () => `rim ${size.width} ${size.height}`;
  return material;
}
