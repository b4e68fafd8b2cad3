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

inline constexpr const char* shape_vertex = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec2 texturePlace;
layout(location = 3) in vec4 vertexColor;
layout(location = 4) in mat4 worldFromMesh;
uniform mat4 clipFromWorld;
uniform mat3 viewFromWorld;
out vec3 viewNormal;
out vec3 worldNormal;
out vec2 place;
out vec3 paint;
void main() {
    place = texturePlace;
    paint = pow(max(vertexColor.rgb, vec3(0.0)), vec3(1.0 / 2.2));
    worldNormal = mat3(worldFromMesh) * normal;
    viewNormal = viewFromWorld * worldNormal;
    gl_Position = clipFromWorld * (worldFromMesh * vec4(position, 1.0));
})";

/// A large soft light from above and a weaker one beside the eye, like a drawing with volume.
inline constexpr const char* shape_fragment = R"(#version 330 core
in vec3 viewNormal;
in vec3 worldNormal;
in vec2 place;
in vec3 paint;
out vec4 color;
uniform vec3 base;
uniform sampler2D picture;
uniform float pictureAmount;
uniform vec3 tint;
uniform float tintAmount;
uniform float opacity;
void main() {
    vec3 n = normalize(viewNormal), w = normalize(worldNormal);
    if (!gl_FrontFacing) { n = -n; w = -w; }
    float sky = 0.5 + 0.5 * w.z;
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.62))), 0.0);
    float rim = pow(1.0 - max(n.z, 0.0), 3.0);
    vec3 light = mix(vec3(0.62, 0.65, 0.67), vec3(1.0, 1.0, 0.98), sky) * 0.72 + vec3(0.46) * key + vec3(0.10) * rim;
    vec3 half_way = normalize(vec3(-0.45, 0.65, 1.62));
    float shine = pow(max(dot(n, half_way), 0.0), 26.0) * 0.16;
    vec3 own = base * paint * mix(vec3(1.0), texture(picture, place).rgb, pictureAmount);
    vec3 c = mix(own, tint, tintAmount) * light + shine;
    // What is bright comes near to white but never reaches it, so that snow keeps its relief.
    vec3 over = max(c - vec3(0.68), vec3(0.0)) / 0.30;
    c = min(c, vec3(0.68)) + 0.30 * (vec3(1.0) - exp(-over));
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
layout(location = 4) in mat4 worldFromMesh;
uniform mat4 clipFromWorld;
uniform float floorHeight;
void main() {
    vec4 p = worldFromMesh * vec4(position, 1.0);
    float h = max(p.z - floorHeight, 0.0);
    gl_Position = clipFromWorld * vec4(p.xy + h * vec2(-0.22, 0.30), floorHeight, 1.0);
})";

}  // namespace pivrak::shaders
