#pragma once

#include <QPainter>

#include "app/session/session.h"
#include "app/shell/theme.h"

namespace pivrak {

/// What moves a part's channel, as the tree and the time strip mark it.
enum class ChannelMark { None, Free, Locked, Keyed, Driven, AtLimit };
ChannelMark channelMark(const Session& session, ChannelRef channel);
/// Of a part: the mark of the channel that says most.
ChannelMark channelMark(const Session& session, PartId part);

/// Draws a mark about a place. Its form alone tells the marks apart; colour comes second. Drawn and not
/// written, since no shipped font has all the signs.
void paintMark(QPainter& painter, const QPointF& at, ChannelMark mark, const Theme& theme);

}  // namespace pivrak
