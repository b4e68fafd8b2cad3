#include <fmt/format.h>

#include <array>

#include "core/io/gltf/picture.h"
#include "core/operations/all_operations.h"
#include "core/operations/element_arguments.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

constexpr const char* print_material_name = "tread print";

/// Lugs pressed into soft ground: two rows of slanting bars, and an edge on both sides.
PictureBytes tread_picture() {
    constexpr int size = 64;
    std::array<unsigned char, 4 * size * size> pixels{};
    for (int y = 0; y < size; ++y)
        for (int x = 0; x < size; ++x) {
            const int out = x < size / 2 ? size / 2 - 1 - x : x - size / 2;
            const bool lug = (y + out / 2) % 16 < 8 && out > 1 && out < 28;
            const auto shade = static_cast<unsigned char>(lug ? 120 : out >= 30 ? 196 : 168);
            unsigned char* p = &pixels[static_cast<std::size_t>(4 * (y * size + x))];
            p[0] = shade;
            p[1] = static_cast<unsigned char>(shade + 4);
            p[2] = static_cast<unsigned char>(shade + 8);
            p[3] = 255;
        }
    return png_from_pixels(pixels.data(), size, size);
}

MaterialId print_material(Document& document) {
    for (const Material& m : document.materials)
        if (m.name == print_material_name) return m.id;
    Image image{document.new_id<ImageId>(), print_material_name, "image/png",
                std::make_shared<const PictureBytes>(tread_picture())};
    document.images.set(image);
    Material m;
    m.id = document.new_id<MaterialId>();
    m.name = print_material_name;
    m.base_color = {1, 1, 1, 1};
    m.roughness = 0.95;
    m.base_color_picture.image = image.id;
    document.materials.set(m);
    return m.id;
}

/// What the wheel stands on already: its vehicle's ground, or that it leans on.
PartId usual_ground(const Document& document, PartId wheel) {
    for (const Coupling& c : document.couplings)
        if (c.as<Lean>() && c.as<Lean>()->wheel == wheel) return c.as<Lean>()->ground;
    for (const Vehicle& vehicle : document.vehicles)
        for (const VehicleWheel& w : vehicle.wheels)
            if (w.wheel == wheel) return vehicle.ground;
    return {};
}

Result<void> read_sizes(const Document& document, const Arguments& a, Print& print) {
    take_arguments(a, print);
    if (print.width_m < 0) return Error{"print.width", "a print cannot be narrower than nothing", "width"};
    if (!(print.tile_m >= 0.001))
        return Error{"print.tile", "one picture must cover a millimetre of way at least", "tile"};
    if (const Part* ground = document.parts.find(print.ground); ground && !ground->shape)
        return Error{"print.ground", fmt::format("'{}' has no shape to print on", ground->name),
                     ground->name};
    return {};
}

Result<const Print*> print_named(const Document& document, const Arguments& a) {
    for (const Print& print : document.prints)
        if (print.name == a.text("print")) return &print;
    return Error{"print.unknown", fmt::format("there is no print '{}'", a.text("print")), "print"};
}

bool is_taken(const Document& document, const std::string& name, PrintId but = {}) {
    for (const Print& print : document.prints)
        if (print.id != but && print.name == name) return true;
    return false;
}

Result<Outcome> print_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    RigFacts facts;
    const Tree tree(document);
    for (const PartId id : a.parts("parts")) {
        const Part& wheel = *document.parts.find(id);
        if (!wheel.joint.has(ChannelKind::Turn))
            return Error{"print.wheel",
                         fmt::format("'{}' is no wheel: it must be a hinge about its axle", wheel.name),
                         wheel.name};
        for (const Print& other : document.prints)
            if (other.wheel == id)
                return Error{"print.twice", fmt::format("'{}' leaves a print already", wheel.name),
                             wheel.name};
        const WheelSize size = facts.wheel(document, tree, id);
        if (!(size.radius_m > 1e-6))
            return Error{"print.wheel", fmt::format("'{}' has no shape that could print", wheel.name),
                         wheel.name};
        Print print;
        print.wheel = id;
        print.ground = usual_ground(document, id);
        // A square picture keeps its shape.
        print.tile_m = a.number_if("width").value_or(0) > 0 ? a.number("width") : 2 * size.half_width_m;
        PIVRAK_CHECK(read_sizes(document, a, print));
        print.name = wheel.name + " print";
        for (int n = 2; is_taken(out.document, print.name); ++n)
            print.name = fmt::format("{} print {}", wheel.name, n);
        print.material = print_material(out.document);
        print.id = out.document.new_id<PrintId>();
        out.document.prints.set(print);
        out.messages.push_back(
            fmt::format("'{}' prints a track {} wide", wheel.name,
                        format_length(print.width_m > 0 ? print.width_m : 2 * size.half_width_m, document)));
    }
    return out;
}

Result<Outcome> print_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, print_named(document, a));
    Print print = *found;
    PIVRAK_CHECK(read_sizes(document, a, print));
    if (a.flag("floor")) print.ground = {};
    if (a.has("name")) {
        PIVRAK_CHECK(check_name(a.text("name")));
        if (is_taken(document, a.text("name"), print.id))
            return Error{"print.duplicate", fmt::format("there is another print '{}'", a.text("name")),
                         "name"};
        print.name = a.text("name");
    }
    Outcome out{document};
    out.document.prints.set(print);
    return out;
}

Result<Outcome> print_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, print_named(document, a));
    Outcome out{document};
    out.document.prints.erase(found->id);
    return out;
}

std::vector<ArgumentSpec> with_sizes(std::vector<ArgumentSpec> first) {
    for (ArgumentSpec& spec :
         arguments_of<Print>({{"ground", "the part that is printed on"},
                              {"width", "of the print; that of the tread when 0 or left out"},
                              {"tile", "way that one picture covers; as long as it is wide when left out"},
                              {"lift", "above the ground, so that it shows"}}))
        first.push_back(std::move(spec));
    return first;
}

}  // namespace

void add_print_operations(Registry& registry) {
    registry.add({"print.add", "Leave printed tracks",
                  "Wheels leave tracks on the ground that grow as they go; what they stand on is printed on.",
                  with_sizes({parts_argument("wheels")}), print_add});
    registry.add({"print.set", "Change a printed track", "Changes what a print lies on, and its sizes.",
                  with_sizes({{"print", ArgumentKind::Text, "name of the print", true, {}, {}},
                              {"name", ArgumentKind::Text, "new name", false, {}, {}},
                              {"floor", ArgumentKind::Flag, "lies on the level floor", false, false, {}}}),
                  print_set});
    registry.add({"print.remove",
                  "Take a printed track away",
                  "The wheel leaves no track any more.",
                  {{"print", ArgumentKind::Text, "name of the print", true, {}, {}}},
                  print_remove});
}

}  // namespace pivrak
