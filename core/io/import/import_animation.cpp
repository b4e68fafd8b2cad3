#include "core/io/import/import_animation.h"

#include <assimp/anim.h>
#include <assimp/scene.h>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/io/gltf/thin_samples.h"
#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

constexpr double most_frames = 100000;
constexpr double still = 1e-7;  ///< shifts [m] and turns [rad] below this are none

/// What stands between two keys of the file, and how far the way is.
template <class Key>
struct Between {
    const Key *before, *after;
    double share;
};

template <class Key>
Between<Key> between(const Key* keys, unsigned count, double time) {
    const Key* end = keys + count;
    const Key* after = std::upper_bound(keys, end, time, [](double t, const Key& k) { return t < k.mTime; });
    if (after == keys) return {keys, keys, 0};
    const Key* before = after - 1;
    if (after == end) return {before, before, 0};
    const double span = after->mTime - before->mTime;
    return {before, after, span > 0 ? (time - before->mTime) / span : 0};
}

Vec3 vector_at(const aiVectorKey* keys, unsigned count, double time, const Vec3& otherwise) {
    if (count == 0) return otherwise;
    const auto [before, after, share] = between(keys, count, time);
    const Vec3 a(before->mValue.x, before->mValue.y, before->mValue.z),
        b(after->mValue.x, after->mValue.y, after->mValue.z);
    return a + share * (b - a);
}

Quat rotation_at(const aiQuatKey* keys, unsigned count, double time) {
    if (count == 0) return Quat(1, 0, 0, 0);
    const auto [before, after, share] = between(keys, count, time);
    const Quat a(before->mValue.w, before->mValue.x, before->mValue.y, before->mValue.z),
        b(after->mValue.w, after->mValue.x, after->mValue.y, after->mValue.z);
    if (!(a.norm() > 0) || !(b.norm() > 0)) return Quat(1, 0, 0, 0);
    return a.normalized().slerp(share, b.normalized());
}

Mat4 matrix_at(const aiNodeAnim& channel, const aiNode& node, double time) {
    aiVector3D size, place;
    aiQuaternion turn;
    node.mTransformation.Decompose(size, turn, place);
    Mat4 m = Mat4::Identity();
    const Vec3 s =
        vector_at(channel.mScalingKeys, channel.mNumScalingKeys, time, Vec3(size.x, size.y, size.z));
    const Quat r = channel.mNumRotationKeys
                       ? rotation_at(channel.mRotationKeys, channel.mNumRotationKeys, time)
                       : Quat(turn.w, turn.x, turn.y, turn.z);
    m.topLeftCorner<3, 3>() = r.toRotationMatrix() * s.asDiagonal();
    m.topRightCorner<3, 1>() =
        vector_at(channel.mPositionKeys, channel.mNumPositionKeys, time, Vec3(place.x, place.y, place.z));
    return m;
}

bool size_changes(const aiNodeAnim& channel) {
    for (unsigned k = 1; k < channel.mNumScalingKeys; ++k)
        if ((channel.mScalingKeys[k].mValue - channel.mScalingKeys[0].mValue).Length() > 1e-4f) return true;
    return false;
}

/// How one node moves in one animation: its joint, frame by frame.
using Motion = std::vector<Frame>;

class AnimationReader {
public:
    AnimationReader(const aiScene& scene, const FileAxes& axes,
                    const std::unordered_map<const aiNode*, PartId>& part_of, ImportOutcome& out)
        : scene_(scene), axes_(axes), part_of_(part_of), out_(out) {}

    Result<void> run(const Progress& progress) {
        motions_.resize(scene_.mNumAnimations);
        for (unsigned a = 0; a < scene_.mNumAnimations; ++a) {
            PIVRAK_CHECK(sample(*scene_.mAnimations[a], motions_[a], progress));
        }
        choose_joints();
        drop_unused_first_clip();
        for (unsigned a = 0; a < scene_.mNumAnimations; ++a) add_clip(*scene_.mAnimations[a], a);
        if (!sizes_.empty())
            out_.messages.push_back(fmt::format("animated size of {} is left out: frames are rigid here",
                                                fmt::join(sizes_, ", ")));
        return {};
    }

private:
    struct Motions {
        std::size_t frames = 0;
        std::map<PartId, Motion> of_part;
    };

    static double seconds(const aiAnimation& animation, double ticks) {
        return ticks / (animation.mTicksPerSecond > 0 ? animation.mTicksPerSecond : 25.0);
    }

    Result<void> sample(const aiAnimation& animation, Motions& motions, const Progress& progress) {
        const double rate = out_.document.settings.frame_rate;
        const double length = seconds(animation, animation.mDuration) * rate;
        if (!std::isfinite(length) || length <= 0) return {};
        motions.frames = static_cast<std::size_t>(std::min(std::ceil(length - 1e-6), most_frames));
        if (length > most_frames)
            out_.messages.push_back(
                fmt::format("animation '{}' is {:.0f} frames long; only the first {:.0f} are read",
                            text_of(animation.mName.C_Str()), length, most_frames));
        std::unordered_map<const aiNode*, const aiNodeAnim*> channels;
        for (unsigned c = 0; c < animation.mNumChannels; ++c) {
            const aiNodeAnim* channel = animation.mChannels[c];
            const aiNode* node = scene_.mRootNode->FindNode(channel->mNodeName);
            if (!node || !part_of_.contains(node)) continue;
            channels[node] = channel;
            if (size_changes(*channel)) sizes_.insert("'" + text_of(node->mName.C_Str()) + "'");
        }
        for (std::size_t f = 0; f <= motions.frames; ++f) {
            const double share = static_cast<double>(f) / static_cast<double>(motions.frames);
            if (f % 50 == 0 && !progress.go_on(share, "reading the animation"))
                return Error{"import.cancelled", "cancelled; the project is as it was", ""};
            const double ticks =
                std::min(static_cast<double>(f) / rate *
                             (animation.mTicksPerSecond > 0 ? animation.mTicksPerSecond : 25.0),
                         animation.mDuration);
            for (const auto& [node, channel] : channels) {
                const Part& part = *out_.document.parts.find(part_of_.at(node));
                const Frame world = rigid(file_world(node, channels, ticks));
                const Frame parent =
                    node->mParent ? rigid(file_world(node->mParent, channels, ticks)) : Frame{};
                motions.of_part[part.id].push_back(
                    (part.parent_from_rest.inverse() * parent.inverse() * world).normalized());
            }
        }
        return {};
    }

    Frame rigid(const Mat4& file_world) const {
        return split_rigid(axes_.core_from_file * file_world * axes_.file_from_core).frame;
    }

    static Mat4 file_world(const aiNode* node,
                           const std::unordered_map<const aiNode*, const aiNodeAnim*>& channels,
                           double ticks) {
        Mat4 world = Mat4::Identity();
        for (; node; node = node->mParent) {
            const auto channel = channels.find(node);
            world = (channel == channels.end() ? matrix_of(node->mTransformation)
                                               : matrix_at(*channel->second, *node, ticks)) *
                    world;
        }
        return world;
    }

    /// A part that only turns about one own axis, in every animation, is a hinge.
    static std::optional<int> hinge_axis(const std::vector<const Motion*>& motions) {
        std::optional<int> axis;
        for (const Motion* motion : motions)
            for (const Frame& f : *motion) {
                if (f.translation.norm() > 1e-6) return std::nullopt;
                const Vec3 v = f.rotation.vec();
                if (v.norm() < 1e-6) continue;
                Eigen::Index largest = 0;
                v.cwiseAbs().maxCoeff(&largest);
                if (axis && *axis != largest) return std::nullopt;
                axis = static_cast<int>(largest);
                if ((v - v[largest] * Vec3::Unit(largest)).norm() > 1e-6) return std::nullopt;
            }
        return axis;
    }

    static bool moves(const Motion& motion) {
        return std::any_of(motion.begin(), motion.end(), [](const Frame& f) {
            return f.translation.norm() > still || angle_between(f.rotation, Quat(1, 0, 0, 0)) > still;
        });
    }

    void choose_joints() {
        std::map<PartId, std::vector<const Motion*>> all;
        for (const Motions& motions : motions_)
            for (const auto& [part, motion] : motions.of_part)
                if (moves(motion)) all[part].push_back(&motion);
        for (const auto& [id, motions] : all) {
            Part part = *out_.document.parts.find(id);
            const auto axis = hinge_axis(motions);
            part.joint.kind = axis ? JointKind::Hinge : JointKind::Free;
            part.joint.axis = axis.value_or(0);
            out_.document.parts.set(part);
        }
    }

    /// The clip a new project begins with gives way when nobody has used it.
    void drop_unused_first_clip() {
        const bool comes =
            std::any_of(motions_.begin(), motions_.end(), [](const Motions& m) { return m.frames > 0; });
        if (!comes || out_.document.clips.size() != 1) return;
        const Clip first = clip_or_first(out_.document);
        if (first.tracks.empty()) out_.document.clips.erase(first.id);
    }

    void add_clip(const aiAnimation& animation, std::size_t number) {
        const Motions& motions = motions_[number];
        if (motions.frames == 0) return;
        Clip clip;
        clip.id = out_.document.new_id<ClipId>();
        clip.name = free_name(animation.mName.length ? text_of(animation.mName.C_Str())
                                                     : fmt::format("clip {}", number + 1));
        clip.first_frame = 0;
        clip.last_frame = static_cast<double>(motions.frames);
        for (const auto& [part, motion] : motions.of_part) {
            const Joint& joint = out_.document.parts.find(part)->joint;
            if (joint.kind == JointKind::Hinge) add_hinge_keys(part, joint.axis, motion, clip);
            if (joint.kind == JointKind::Free) add_free_keys(part, motion, clip);
        }
        out_.document.clips.set(clip);
        out_.messages.push_back(fmt::format("animation '{}': {} frames, {} channels", clip.name,
                                            motions.frames, clip.tracks.size()));
    }

    std::string free_name(const std::string& wanted) const {
        const auto taken = [&](const std::string& name) {
            return std::any_of(out_.document.clips.begin(), out_.document.clips.end(),
                               [&](const Clip& c) { return c.name == name; });
        };
        std::string name = wanted;
        for (int n = 2; taken(name); ++n) name = fmt::format("{} {}", wanted, n);
        return name;
    }

    static void add_hinge_keys(PartId part, int axis, const Motion& motion, Clip& clip) {
        std::vector<double> turns;
        double last = 0;
        for (const Frame& f : motion) {
            const double turn = 2 * std::atan2(f.rotation.vec()[axis], f.rotation.w());
            last += std::remainder(turn - last, 2 * pi);
            turns.push_back(last);
        }
        add_track({part, ChannelKind::Turn}, turns, clip);
    }

    static void add_free_keys(PartId part, const Motion& motion, Clip& clip) {
        using enum ChannelKind;
        std::array<std::vector<double>, 6> values;
        Vec3 turns(0, 0, 0);
        for (const Frame& f : motion) {
            turns = turns_from_rotation(f.rotation, turns);
            for (int k = 0; k < 3; ++k) {
                values[static_cast<std::size_t>(k)].push_back(f.translation[k]);
                values[static_cast<std::size_t>(k) + 3].push_back(turns[k]);
            }
        }
        constexpr std::array kinds{ShiftX, ShiftY, ShiftZ, TurnX, TurnY, TurnZ};
        for (std::size_t k = 0; k < kinds.size(); ++k) add_track({part, kinds[k]}, values[k], clip);
    }

    static void add_track(ChannelRef channel, const std::vector<double>& values, Clip& clip) {
        if (std::all_of(values.begin(), values.end(), [](double v) { return std::abs(v) < still; })) return;
        std::vector<double> frames;
        std::vector<Vec3> points;
        for (std::size_t f = 0; f < values.size(); ++f) {
            frames.push_back(static_cast<double>(f));
            points.emplace_back(values[f], 0, 0);
        }
        ThinOptions thin;
        thin.translation_m = still;
        Track& track = clip.track_or_new(channel);
        for (const std::size_t f : thin_translations(frames, points, thin))
            track.keys.push_back({frames[f], values[f], Interpolation::Linear});
    }

    const aiScene& scene_;
    const FileAxes& axes_;
    const std::unordered_map<const aiNode*, PartId>& part_of_;
    ImportOutcome& out_;
    std::vector<Motions> motions_;
    std::set<std::string> sizes_;
};

}  // namespace

Result<void> read_animations(const aiScene& scene, const FileAxes& axes,
                             const std::unordered_map<const aiNode*, PartId>& part_of, ImportOutcome& out,
                             const Progress& progress) {
    if (scene.mNumAnimations == 0) return {};
    return AnimationReader(scene, axes, part_of, out).run(progress);
}

}  // namespace pivrak
