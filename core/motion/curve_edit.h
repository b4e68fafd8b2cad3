#pragma once

#include "core/motion/curve.h"

namespace pivrak {

/// Puts a key where the curve is, so that it goes on as it went: keys beside it get handles of their own
/// where their slopes followed from their neighbours. Beyond the keys, and on one that is there, nothing
/// changes. Pre: at least one key.
void insert_key(Track& track, double frame);

/// A key that keeps the slopes with which it is reached and left now, whatever becomes of its neighbours.
/// Pre: `at` is one of the keys.
void freeze_key(Track& track, std::size_t at);

/// As few of the keys from `from` to `to` as keep the curve within a tolerance at every tenth of a frame;
/// those that stay keep their slopes. Its first and last one, keys before steps and those whose two slopes
/// differ stay. Answers how many went.
std::size_t thin_keys(Track& track, double from, double to, double tolerance);

/// Turns a run of keys round in time, within its own frames: what ran from one to the next runs back.
/// Pre: `first <= last`, both keys.
void reverse_keys(Track& track, std::size_t first, std::size_t last);

/// The furthest that two curves are apart at every tenth of a frame of a range.
double furthest_apart(const Track& a, const Track& b, double from, double to);

}  // namespace pivrak
