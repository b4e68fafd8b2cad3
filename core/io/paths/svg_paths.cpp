// Source: W3C, Scalable Vector Graphics 1.1: paths (8.3), basic shapes (9), transforms (7.6), and elliptical
// arcs (implementation notes F.6).
#include <fmt/format.h>

#include <Eigen/Geometry>
#include <cmath>
#include <pugixml.hpp>
#include <vector>

#include "core/geometry/types.h"
#include "core/io/paths/path_files.h"

namespace pivrak {
namespace {

using Affine = Eigen::Affine2d;

/// Thrown inside this file only, and answered as an error at its border.
struct Wrong {
    std::string what;
};

/// Numbers and letters of SVG's short notations: separated by blanks, commas, or nothing at all.
class Scanner {
public:
    explicit Scanner(std::string_view text) : text_(text) {}

    void skip() {
        while (at_ < text_.size() &&
               (std::isspace(static_cast<unsigned char>(text_[at_])) || text_[at_] == ','))
            ++at_;
    }
    bool at_end() {
        skip();
        return at_ >= text_.size();
    }
    bool at_letter() { return !at_end() && std::isalpha(static_cast<unsigned char>(text_[at_])); }
    char letter() {
        skip();
        return text_[at_++];
    }
    /// The word before a bracket.
    std::string_view word() {
        skip();
        const std::size_t open = text_.find('(', at_);
        if (open == std::string_view::npos) throw Wrong{"a transform has no bracket"};
        std::string_view found = text_.substr(at_, open - at_);
        while (!found.empty() && std::isspace(static_cast<unsigned char>(found.back())))
            found.remove_suffix(1);
        at_ = open + 1;
        return found;
    }
    bool take(char wanted) {
        skip();
        if (at_ >= text_.size() || text_[at_] != wanted) return false;
        ++at_;
        return true;
    }
    double number() {
        skip();
        const std::string rest(text_.substr(at_, 40));
        char* end = nullptr;
        const double value = std::strtod(rest.c_str(), &end);
        if (end == rest.c_str() || !std::isfinite(value))
            throw Wrong{fmt::format("a number was expected at '{}'", rest.substr(0, 12))};
        at_ += static_cast<std::size_t>(end - rest.c_str());
        return value;
    }
    Vec2 pair() {
        const double x = number();
        return {x, number()};
    }
    /// The flags of an arc may stand together without a blank.
    bool flag() {
        skip();
        if (at_ >= text_.size() || (text_[at_] != '0' && text_[at_] != '1'))
            throw Wrong{"an arc's flag must be 0 or 1"};
        return text_[at_++] == '1';
    }

private:
    std::string_view text_;
    std::size_t at_ = 0;
};

Affine transform_from(std::string_view text) {
    Affine all = Affine::Identity();
    Scanner scan(text);
    while (!scan.at_end()) {
        const std::string kind(scan.word());
        std::vector<double> n;
        while (!scan.take(')')) n.push_back(scan.number());
        const auto value = [&](std::size_t i, double otherwise) { return i < n.size() ? n[i] : otherwise; };
        Affine one = Affine::Identity();
        if (kind == "translate") {
            one.translate(Vec2(value(0, 0), value(1, 0)));
        } else if (kind == "scale") {
            one.scale(Vec2(value(0, 1), value(1, value(0, 1))));
        } else if (kind == "rotate") {
            const Vec2 about(value(1, 0), value(2, 0));
            one.translate(about).rotate(value(0, 0) * rad_per_deg).translate(-about);
        } else if (kind == "skewX" || kind == "skewY") {
            one.linear()(kind == "skewX" ? 0 : 1, kind == "skewX" ? 1 : 0) =
                std::tan(value(0, 0) * rad_per_deg);
        } else if (kind == "matrix" && n.size() == 6) {
            one.matrix() << n[0], n[2], n[4], n[1], n[3], n[5], 0, 0, 1;
        } else {
            throw Wrong{fmt::format("'{}' is no transform", kind)};
        }
        all = all * one;
    }
    return all;
}

/// Makes paths of pen movements on the page.
class Pen {
public:
    Pen(std::vector<Path>& out, std::string name, const Affine& page, double unit)
        : out_(out), name_(std::move(name)), page_(page), unit_(unit) {}

    void move(const Vec2& to) {
        end(false);
        path_.points.push_back({placed(to)});
        at_ = start_ = to;
    }
    void line(const Vec2& to) { curve(at_, to, to, true); }
    void cubic(const Vec2& a, const Vec2& b, const Vec2& to) { curve(a, b, to, false); }
    void arc(double rx, double ry, double turn, bool large, bool sweep, const Vec2& to);
    void end(bool closed) {
        auto& p = path_.points;
        // A path closed by a last piece back to its start has that point once.
        if (closed && p.size() > 2 && (p.back().place - p.front().place).norm() < 1e-9 * unit_) {
            p.front().before = p.back().before;
            p.pop_back();
        }
        if (p.size() > 1) {
            path_.name = name_;
            path_.form = straight_ ? PathForm::Polyline : PathForm::Bezier;
            path_.closed = closed;
            out_.push_back(path_);
        }
        path_ = {};
        straight_ = true;
        at_ = start_;
    }
    const Vec2& at() const { return at_; }

private:
    Vec3 placed(const Vec2& p) const {
        const Vec2 q = unit_ * (page_ * p);
        return {q.x(), -q.y(), 0};
    }
    void curve(const Vec2& a, const Vec2& b, const Vec2& to, bool straight) {
        // After a close the pen goes on from the start of what was closed.
        if (path_.points.empty()) path_.points.push_back({placed(at_)});
        straight_ &= straight;
        PathPoint& last = path_.points.back();
        const Vec3 end = placed(to);
        last.after = placed(a) - last.place;
        path_.points.push_back({end, placed(b) - end});
        at_ = to;
    }

    std::vector<Path>& out_;
    std::string name_;
    const Affine& page_;
    double unit_;
    Path path_;
    bool straight_ = true;
    Vec2 at_{0, 0}, start_{0, 0};
};

void Pen::arc(double rx, double ry, double turn, bool large, bool sweep, const Vec2& to) {
    rx = std::abs(rx);
    ry = std::abs(ry);
    if (rx == 0 || ry == 0 || to == at_) return line(to);
    const Eigen::Rotation2Dd rotation(turn);
    const Vec2 half = rotation.inverse() * (0.5 * (at_ - to));
    const double x = half.x() / rx, y = half.y() / ry, size = x * x + y * y;
    // Radii that are too small are made just large enough.
    const double grow = size > 1 ? std::sqrt(size) : 1;
    rx *= grow;
    ry *= grow;
    const double u = half.x() / rx, v = half.y() / ry, off = std::max(0.0, 1 / (u * u + v * v) - 1);
    const double sign = large == sweep ? -1 : 1;
    const Vec2 middle = sign * std::sqrt(off) * Vec2(v, -u);
    const double first = std::atan2(v - middle.y(), u - middle.x());
    double sweep_rad = std::atan2(-v - middle.y(), -u - middle.x()) - first;
    if (sweep && sweep_rad < 0) sweep_rad += 2 * pi;
    if (!sweep && sweep_rad > 0) sweep_rad -= 2 * pi;
    const Vec2 centre = 0.5 * (at_ + to) + rotation * Vec2(rx * middle.x(), ry * middle.y());
    const auto count = static_cast<int>(std::ceil(std::abs(sweep_rad) / (pi / 8)));
    const double step = sweep_rad / count, handle = 4.0 / 3 * std::tan(step / 4);
    const auto on = [&](double c, double s) -> Vec2 { return centre + rotation * Vec2(rx * c, ry * s); };
    for (int i = 0; i < count; ++i) {
        const double t0 = first + step * i, t1 = t0 + step;
        const Vec2 a = on(std::cos(t0) - handle * std::sin(t0), std::sin(t0) + handle * std::cos(t0)),
                   b = on(std::cos(t1) + handle * std::sin(t1), std::sin(t1) - handle * std::cos(t1));
        cubic(a, b, i + 1 == count ? to : on(std::cos(t1), std::sin(t1)));
    }
}

/// Reads the commands of a path and draws them.
class PathCommands {
public:
    PathCommands(std::string_view d, Pen& pen) : scan_(d), pen_(pen) {}

    void draw() {
        char command = 0;
        while (!scan_.at_end()) {
            if (scan_.at_letter())
                command = scan_.letter();
            else if (command == 'M' || command == 'm')
                command = command == 'M' ? 'L' : 'l';
            else if (command == 0 || command == 'Z' || command == 'z')
                throw Wrong{"a path begins without a letter"};
            from_ = std::islower(static_cast<unsigned char>(command)) ? pen_.at() : Vec2(0, 0);
            const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command)));
            if (before_ == 0 && kind != 'M') throw Wrong{"a path must begin with M"};
            if (!straight(kind) && !curved(kind))
                throw Wrong{fmt::format("'{}' is no path command", command)};
            before_ = kind;
        }
        pen_.end(false);
    }

private:
    bool straight(char kind) {
        switch (kind) {
            case 'M':
                pen_.move(place());
                return true;
            case 'L':
                pen_.line(place());
                return true;
            case 'H':
                pen_.line({from_.x() + scan_.number(), pen_.at().y()});
                return true;
            case 'V':
                pen_.line({pen_.at().x(), from_.y() + scan_.number()});
                return true;
            case 'Z':
                pen_.end(true);
                return true;
            default:
                return false;
        }
    }

    bool curved(char kind) {
        switch (kind) {
            case 'C':
                cubic(place());
                return true;
            case 'S':
                cubic(mirrored("CS"));
                return true;
            case 'Q': {
                const Vec2 control = place();
                quadratic(control, place());
                return true;
            }
            case 'T':
                quadratic(mirrored("QT"), place());
                return true;
            case 'A': {
                const Vec2 radii = scan_.pair();
                const double turn = scan_.number() * rad_per_deg;
                const bool large = scan_.flag(), sweep = scan_.flag();
                pen_.arc(radii.x(), radii.y(), turn, large, sweep, place());
                return true;
            }
            default:
                return false;
        }
    }

    Vec2 place() { return from_ + scan_.pair(); }
    /// The first handle of a short form: that of the last curve, the other way.
    Vec2 mirrored(std::string_view kinds) const {
        return kinds.find(before_) == std::string_view::npos ? pen_.at() : Vec2(2 * pen_.at() - handle_);
    }
    void cubic(const Vec2& first) {
        handle_ = place();
        pen_.cubic(first, handle_, place());
    }
    void quadratic(const Vec2& control, const Vec2& to) {
        const Vec2 a = pen_.at() + 2.0 / 3 * (control - pen_.at()), b = to + 2.0 / 3 * (control - to);
        handle_ = control;
        pen_.cubic(a, b, to);
    }

    Scanner scan_;
    Pen& pen_;
    char before_ = 0;
    Vec2 from_{0, 0};    // what the numbers of a command count from
    Vec2 handle_{0, 0};  // of the last curve, for the short forms
};

class Drawing {
public:
    Drawing(std::vector<Path>& out, double unit) : out_(out), unit_(unit) {}

    void element(const pugi::xml_node& node, const Affine& above, int depth) {
        if (depth > 200) throw Wrong{"elements are nested too deeply"};
        const std::string kind = node.name();
        if (kind == "defs" || kind == "clipPath" || kind == "mask" || kind == "symbol") return;
        Affine page = above;
        if (const auto transform = node.attribute("transform"))
            page = page * transform_from(transform.value());
        const std::string name = node.attribute("id") ? node.attribute("id").value() : kind;
        const auto number = [&](const char* key) {
            const auto attribute = node.attribute(key);
            return attribute ? Scanner(attribute.value()).number() : 0.0;
        };
        Pen pen(out_, name, page, unit_);
        if (kind == "path") {
            PathCommands(node.attribute("d").value(), pen).draw();
        } else if (kind == "line") {
            pen.move({number("x1"), number("y1")});
            pen.line({number("x2"), number("y2")});
            pen.end(false);
        } else if (kind == "polyline" || kind == "polygon") {
            points(node.attribute("points").value(), pen, kind == "polygon");
        } else if (kind == "rect") {
            const double x = number("x"), y = number("y"), w = number("width"), h = number("height");
            pen.move({x, y});
            for (const Vec2& p : {Vec2(x + w, y), Vec2(x + w, y + h), Vec2(x, y + h), Vec2(x, y)})
                pen.line(p);
            pen.end(true);
        } else if (kind == "circle" || kind == "ellipse") {
            ellipse(name, page, {number("cx"), number("cy")}, number(kind == "circle" ? "r" : "rx"),
                    number(kind == "circle" ? "r" : "ry"));
        }
        for (const pugi::xml_node& child : node.children()) element(child, page, depth + 1);
    }

private:
    static void points(std::string_view text, Pen& pen, bool closed) {
        Scanner scan(text);
        for (bool first = true; !scan.at_end(); first = false) {
            const Vec2 p = scan.pair();
            first ? pen.move(p) : pen.line(p);
        }
        pen.end(closed);
    }
    void ellipse(const std::string& name, const Affine& page, const Vec2& centre, double rx, double ry) {
        if (!(rx > 0) || !(ry > 0)) return;
        Path path;
        path.name = name;
        path.form = PathForm::Ellipse;
        // Against the page's downward y, so that it runs anticlockwise seen from above.
        for (const Vec2& p : {centre, Vec2(centre + Vec2(rx, 0)), Vec2(centre - Vec2(0, ry))}) {
            const Vec2 q = unit_ * (page * p);
            path.points.push_back({{q.x(), -q.y(), 0}});
        }
        out_.push_back(path);
    }

    std::vector<Path>& out_;
    double unit_;
};

}  // namespace

Result<std::vector<Path>> paths_from_svg(const std::string& text, double metres_per_unit) {
    pugi::xml_document xml;
    const auto parsed = xml.load_buffer(text.data(), text.size());
    if (!parsed)
        return Error{"path.file", fmt::format("no XML: {} at byte {}", parsed.description(), parsed.offset),
                     ""};
    std::vector<Path> paths;
    try {
        for (const pugi::xml_node& root : xml.children())
            Drawing(paths, metres_per_unit).element(root, Affine::Identity(), 0);
    } catch (const Wrong& wrong) {
        return Error{"path.file", wrong.what, ""};
    }
    if (paths.empty()) return Error{"path.none", "the drawing has no path", ""};
    return paths;
}

}  // namespace pivrak
