#include "app/session/laid_prints.h"

namespace pivrak {
namespace {

constexpr std::uint32_t indices_of_a_block = 4500;

std::vector<LaidPrints::Block> blocks_of(const PrintStrip& strip) {
    std::vector<LaidPrints::Block> blocks;
    double from = 0;
    std::uint32_t before = 0, so_far = 0;
    for (std::size_t i = 1; i < strip.rows.size(); ++i) {
        if (!strip.rows[i].starts) so_far += 6 * static_cast<std::uint32_t>(strip.rows[i].places.size() - 1);
        const double to = strip.rows[i].way_m;
        if (so_far - before < indices_of_a_block && i + 1 < strip.rows.size()) continue;
        if (so_far > before)
            blocks.push_back({to, before, std::make_shared<const Mesh>(strip.piece(from, to))});
        from = to;
        before = so_far;
    }
    return blocks;
}

}  // namespace

LaidPrints::LaidPrints(Session& session, QObject* parent) : QObject(parent), session_(session) {
    for (auto signal : {&Session::documentChanged, &Session::previewChanged})
        connect(&session_, signal, this, &LaidPrints::lay);
    lay();
}

const LaidPrints::Laid* LaidPrints::find(PrintId print) const {
    for (const Laid& laid : laid_)
        if (laid.strip.print == print) return &laid;
    return nullptr;
}

void LaidPrints::lay() {
    const Document& document = session_.shownDocument();
    if (document.prints.empty()) {
        worker_.cancel();
        if (laid_.empty()) return;
        laid_.clear();
        emit changed();
        return;
    }
    worker_.start(
        QString(),
        [document, clip = session_.clip().id](const Progress& progress) {
            std::vector<Laid> laid;
            auto strips = lay_prints(document, clip, progress);
            if (!strips) return laid;
            for (PrintStrip& strip : *strips) {
                auto blocks = blocks_of(strip);
                laid.push_back({std::move(strip), std::move(blocks)});
            }
            return laid;
        },
        [this](std::vector<Laid> laid) {
            laid_ = std::move(laid);
            emit changed();
        });
}

}  // namespace pivrak
