#pragma once

namespace pivrak::shaders {

/// A triangle that covers the view, without buffers.
inline constexpr const char* full_view = R"(#version 330 core
out vec2 place;
void main() {
    vec2 corner = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2);
    place = corner;
    gl_Position = vec4(corner * 2.0 - 1.0, 0.999999, 1.0);
})";

/// Light above, a soft horizon, a graded ground.
inline constexpr const char* background = R"(#version 330 core
in vec2 place;
out vec4 color;
uniform vec3 top, horizon, bottom;
uniform float horizonHeight;
void main() {
    float above = clamp((place.y - horizonHeight) / 0.55, 0.0, 1.0);
    float below = clamp((horizonHeight - place.y) / 0.8, 0.0, 1.0);
    vec3 c = place.y > horizonHeight ? mix(horizon, top, sqrt(above)) : mix(horizon, bottom, sqrt(below));
    color = vec4(c, 1.0);
})";

/// A large square of floor round the target.
inline constexpr const char* floor_vertex = R"(#version 330 core
uniform mat4 clipFromWorld;
uniform vec2 centre;
uniform float reach;
out vec2 at;
void main() {
    vec2 corner = vec2((gl_VertexID & 1) * 2 - 1, (gl_VertexID >> 1) * 2 - 1);
    at = centre + corner * reach;
    gl_Position = clipFromWorld * vec4(at, 0.0, 1.0);
})";

/// Lines of one pixel at every step and stronger ones at every fifth, fading with distance.
inline constexpr const char* floor_fragment = R"(#version 330 core
in vec2 at;
out vec4 color;
uniform vec3 lineColor;
uniform float stepLength, reach;
uniform vec2 centre;
float lines(vec2 p, float spacing) {
    vec2 q = p / spacing, w = fwidth(q);
    vec2 d = abs(fract(q - 0.5) - 0.5) / max(w, vec2(1e-6));
    vec2 fade = clamp(0.35 / max(w, vec2(1e-6)), 0.0, 1.0);
    vec2 a = (1.0 - clamp(d, 0.0, 1.0)) * fade;
    return max(a.x, a.y);
}
void main() {
    float far = 1.0 - smoothstep(0.35, 1.0, length(at - centre) / reach);
    vec2 w = fwidth(at);
    vec2 axis = 1.0 - clamp(abs(at) / max(w, vec2(1e-6)) / 1.4, 0.0, 1.0);
    float strength = max(0.30 * lines(at, stepLength), 0.62 * lines(at, 5.0 * stepLength));
    strength = max(strength, 0.85 * max(axis.x, axis.y));
    color = vec4(lineColor, strength * far);
})";

/// Where shapes lie is a matrix of each instance, or of one alone where ALONE is defined: a processor that
/// draws would look an instance's up for every vertex.
inline constexpr const char* shape_vertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec2 texturePlace;
layout(location = 3) in vec4 vertexColor;
layout(location = 8) in vec2 secondPlace;
#ifdef ALONE
uniform mat4 clipFromMesh;
uniform mat3 viewFromMesh;
#else
layout(location = 4) in mat4 worldFromMesh;
uniform mat4 clipFromWorld;
uniform mat3 viewFromWorld;
#endif
out vec3 viewNormal;
out vec2 place, place2;
out vec4 paint;
void main() {
    place = texturePlace;
    place2 = secondPlace;
    paint = vertexColor;
#ifdef ALONE
    viewNormal = viewFromMesh * normal;
    gl_Position = clipFromMesh * vec4(position, 1.0);
#else
    viewNormal = viewFromWorld * (mat3(worldFromMesh) * normal);
    gl_Position = clipFromWorld * (worldFromMesh * vec4(position, 1.0));
#endif
})";

/// A large soft light from above and a weaker one beside the eye, like a drawing with volume. Powers are
/// multiplied out, and what only some surfaces have is looked at only where SURFACE is defined: it is drawn
/// by processors too. Source of the bumps' axes: derivatives of places and texture places, common practice.
inline constexpr const char* shape_fragment = R"(#version 330 core
in vec3 viewNormal;
in vec2 place, place2;
in vec4 paint;
out vec4 color;
uniform vec3 base;
#ifdef SURFACE
uniform float metallic, roughness, lit;
uniform vec3 glow;
#endif
#ifdef PICTURED
uniform sampler2D pictures[4];  // colour, metal and roughness, bumps, glow
uniform vec4 has;               // how much of each
uniform mat3 lies[4];
uniform float second[4];        // 1 where it lies by the second places
uniform float opaque, cutoff;
uniform mat4 viewFromPixel;
vec2 placeIn(int i) { return (lies[i] * vec3(mix(place, place2, second[i]), 1.0)).xy; }
vec3 bumped(vec3 n) {
    vec4 seen = viewFromPixel * vec4(gl_FragCoord.xyz, 1.0);
    vec3 at = seen.xyz / seen.w;
    vec2 uv = placeIn(2);
    vec3 dx = dFdx(at), dy = dFdy(at);
    vec2 ux = dFdx(uv), uy = dFdy(uv);
    vec3 along = dx * uy.y - dy * ux.y, across = dy * ux.x - dx * uy.x;
    float size = max(dot(along, along), dot(across, across));
    if (size <= 0.0) return n;
    float turn = ux.x * uy.y - ux.y * uy.x < 0.0 ? -1.0 : 1.0;
    along = turn * (along - n * dot(n, along)) * inversesqrt(size);
    across = turn * (across - n * dot(n, across)) * inversesqrt(size);
    // Green points up in the picture, against v.
    vec3 bump = texture(pictures[2], uv).xyz * 2.0 - 1.0;
    return normalize(mat3(along, -across, n) * vec3(bump.xy * has.z, bump.z));
}
#endif
uniform vec3 tint;
uniform float tintAmount;
uniform float opacity;
uniform vec3 up;  // of the world, as the eye sees it
void main() {
    vec3 n = normalize(viewNormal);
    if (!gl_FrontFacing) n = -n;
    vec3 own = base * paint.rgb;
#ifdef SURFACE
    float rough = roughness, metal = metallic;
    vec3 glowing = glow;
#endif
#ifdef PICTURED
    vec4 shown = mix(vec4(1.0), texture(pictures[0], placeIn(0)), has.x);
    if (shown.a * opaque * paint.a < cutoff) discard;
    own *= shown.rgb;
    vec2 made = mix(vec2(1.0), texture(pictures[1], placeIn(1)).gb, has.y);
    rough *= made.x;
    metal *= made.y;
    if (has.z != 0.0) n = bumped(n);
    glowing *= mix(vec3(1.0), texture(pictures[3], placeIn(3)).rgb, has.w);
#endif
    float sky = 0.5 + 0.5 * dot(n, up);
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.62))), 0.0);
    float aside = 1.0 - max(n.z, 0.0), rim = aside * aside * aside;
    vec3 light = mix(vec3(0.62, 0.65, 0.67), vec3(1.0, 1.0, 0.98), sky) * 0.72 + vec3(0.46) * key + vec3(0.10) * rim;
    vec3 half_way = normalize(vec3(-0.45, 0.65, 1.62));
    float s = max(dot(n, half_way), 0.0);
#ifdef SURFACE
    float gloss = 1.0 - clamp(rough, 0.0, 1.0);
    float shine = pow(s, 2.0 + 150.0 * gloss * gloss) * (0.4 + 0.4 * metal) * gloss;
    // Metal shows what is about it in its own colour: the sky above, the ground below.
    float about = 0.5 + 0.5 * dot(2.0 * n.z * n - vec3(0.0, 0.0, 1.0), up);
    vec3 mirrored = own * mix(0.35, 1.15, mix(sky, smoothstep(0.3, 0.8, about), gloss));
    vec3 c = mix(mix(own, tint, tintAmount) * light, mix(mirrored, tint, tintAmount), 0.75 * metal);
    c += shine * mix(vec3(1.0), own, metal);
#else
    float s2 = s * s, s8 = s2 * s2 * s2 * s2, shine = s8 * s8 * s8 * s2 * 0.16;  // to the 26th
    vec3 c = mix(own, tint, tintAmount) * light + shine;
#endif
    // What is bright comes near to white but never reaches it, so that snow keeps its relief.
    vec3 over = max(c - vec3(0.68), vec3(0.0)) / 0.30;
    c = min(c, vec3(0.68)) + 0.30 * (vec3(1.0) - exp(-over));
#ifdef SURFACE
    c = mix(mix(own, tint, tintAmount), c, lit);
    c = min(c + glowing, vec3(1.0));
#endif
    color = vec4(c, opacity);
})";

inline constexpr const char* line_vertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 4) in mat4 worldFromMesh;
uniform mat4 clipFromWorld;
uniform float lift;
void main() {
    vec4 p = clipFromWorld * (worldFromMesh * vec4(position, 1.0));
    p.z -= lift * p.w;
    gl_Position = p;
})";

inline constexpr const char* plain_fragment = R"(#version 330 core
out vec4 color;
uniform vec4 flatColor;
void main() { color = flatColor; })";

/// Shapes pressed onto the floor along a slanted light.
inline constexpr const char* shadow_vertex = R"(#version 330 core
layout(location = 0) in vec3 position;
#ifdef ALONE
uniform mat4 worldFromMesh;
#else
layout(location = 4) in mat4 worldFromMesh;
#endif
uniform mat4 clipFromWorld;
uniform float floorHeight;
void main() {
    vec4 p = worldFromMesh * vec4(position, 1.0);
    float h = max(p.z - floorHeight, 0.0);
    gl_Position = clipFromWorld * vec4(p.xy + h * vec2(-0.22, 0.30), floorHeight, 1.0);
})";

}  // namespace pivrak::shaders
