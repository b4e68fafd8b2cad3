#pragma once

#include <filesystem>

#include "core/model/document.h"

namespace pivrak {

/// A project is a valid glTF 2.0 binary file, `NAME.pivrak.glb`: shapes, materials and tree stand in it in
/// standard form, at rest; joints, couplings, clips and ids stand under `extras.pivrak` of the root. Frames
/// are JSON doubles and vertices single precision, so nothing changes by saving and opening. Fields this
/// version does not know are kept and written back.

/// The bytes of a project file. Errors: `gltf.write`.
Result<std::string> project_bytes(const Document& document);

/// Whether a project may be saved there. Errors: `project.name` when the path does not end in `.pivrak.glb`,
/// those of `check_output_path`.
Result<void> check_project_path(const Document& document, const std::filesystem::path& path);

/// Saves atomically. Errors: those of `check_project_path`, `project_bytes` and `write_file_atomically`.
Result<void> save_project(const Document& document, const std::filesystem::path& path);

/// Errors: `file.read`, `file.empty`, `glb.*`, `gltf.*`, `project.no_rig` (a plain glTF file: to be
/// imported), `project.newer` (written by a newer version), `project.damaged` with the place.
Result<Document> open_project(const std::filesystem::path& path);
Result<Document> project_from_bytes(const std::string& bytes, const std::string& file);

bool is_project_path(const std::filesystem::path& path);

}  // namespace pivrak
