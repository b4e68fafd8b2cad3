#pragma once

#include <algorithm>
#include <cstddef>
#include <iterator>
#include <memory>
#include <vector>

namespace pivrak {

/// An immutable-by-sharing table of entries ordered by `entry.id`.
///
/// Copying a table copies only the list of chunks; changing one entry afterwards clones one chunk of at
/// most 64 pointers and that entry. That is what makes every state of a document cheap to keep for undo.
/// Entries are never changed in place once shared. Not safe for concurrent writers; readers of distinct
/// copies never disturb each other.
template <class T>
class SharedTable {
    static constexpr std::size_t chunk_size = 64;
    using Entry = std::shared_ptr<const T>;
    using Chunk = std::vector<Entry>;
    using Id = decltype(T::id);

public:
    class iterator {
    public:
        using iterator_category = std::forward_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using pointer = const T*;
        using reference = const T&;

        iterator() = default;
        iterator(const SharedTable* table, std::size_t chunk) : table_(table), chunk_(chunk) {}
        const T& operator*() const { return *(*table_->chunks_[chunk_])[slot_]; }
        const T* operator->() const { return &**this; }
        iterator& operator++() {
            if (++slot_ == table_->chunks_[chunk_]->size()) {
                ++chunk_;
                slot_ = 0;
            }
            return *this;
        }
        iterator operator++(int) {
            iterator before = *this;
            ++*this;
            return before;
        }
        bool operator==(const iterator& other) const {
            return chunk_ == other.chunk_ && slot_ == other.slot_;
        }

    private:
        const SharedTable* table_ = nullptr;
        std::size_t chunk_ = 0, slot_ = 0;
    };

    iterator begin() const { return {this, 0}; }
    iterator end() const { return {this, chunks_.size()}; }
    std::size_t size() const { return size_; }
    bool empty() const { return size_ == 0; }

    /// The entry with the highest id. Pre: not empty.
    const T& last() const { return *chunks_.back()->back(); }

    /// The entry, or null when the table has none of that id.
    const T* find(Id id) const {
        const std::size_t chunk = chunk_of(id);
        if (chunk == chunks_.size()) return nullptr;
        const auto slot = slot_of(*chunks_[chunk], id);
        return slot != chunks_[chunk]->end() && (*slot)->id == id ? slot->get() : nullptr;
    }
    bool contains(Id id) const { return find(id) != nullptr; }

    /// Puts an entry in: replaces the one of the same id, or adds it at its place.
    void set(T value) {
        const Id id = value.id;
        auto entry = std::make_shared<const T>(std::move(value));
        std::size_t at = chunk_of(id);
        if (at == chunks_.size()) {
            if (chunks_.empty() || chunks_.back()->size() >= chunk_size)
                chunks_.push_back(std::make_shared<Chunk>());
            at = chunks_.size() - 1;
        }
        Chunk& chunk = own(at);
        const auto slot = slot_of(chunk, id);
        if (slot != chunk.end() && (*slot)->id == id) {
            *slot = std::move(entry);
            return;
        }
        chunk.insert(slot, std::move(entry));
        ++size_;
        if (chunk.size() > chunk_size) halve(at);
    }

    /// Takes an entry out; answers whether there was one.
    bool erase(Id id) {
        if (!contains(id)) return false;
        const std::size_t at = chunk_of(id);
        Chunk& chunk = own(at);
        chunk.erase(slot_of(chunk, id));
        if (chunk.empty()) chunks_.erase(chunks_.begin() + static_cast<std::ptrdiff_t>(at));
        --size_;
        return true;
    }

    /// Equal when all entries are equal; shared chunks and entries are not compared twice.
    bool operator==(const SharedTable& other) const {
        if (size_ != other.size_) return false;
        if (chunks_ == other.chunks_) return true;
        auto theirs = other.begin();
        for (auto ours = begin(); ours != end(); ++ours, ++theirs)
            if (&*ours != &*theirs && !(*ours == *theirs)) return false;
        return true;
    }

private:
    /// First chunk whose last id is not below `id`; `chunks_.size()` when all are below.
    std::size_t chunk_of(Id id) const {
        const auto found = std::partition_point(chunks_.begin(), chunks_.end(),
                                                [&](const auto& chunk) { return chunk->back()->id < id; });
        return static_cast<std::size_t>(found - chunks_.begin());
    }
    template <class C>
    static auto slot_of(C& chunk, Id id) {
        return std::partition_point(chunk.begin(), chunk.end(),
                                    [&](const Entry& entry) { return entry->id < id; });
    }
    /// The chunk, cloned first when any other table shares it.
    Chunk& own(std::size_t at) {
        if (chunks_[at].use_count() > 1) chunks_[at] = std::make_shared<Chunk>(*chunks_[at]);
        return *chunks_[at];
    }
    void halve(std::size_t at) {
        Chunk& full = *chunks_[at];
        const auto middle = full.begin() + static_cast<std::ptrdiff_t>(full.size() / 2);
        auto upper = std::make_shared<Chunk>(middle, full.end());
        full.erase(middle, full.end());
        chunks_.insert(chunks_.begin() + static_cast<std::ptrdiff_t>(at) + 1, std::move(upper));
    }

    std::vector<std::shared_ptr<Chunk>> chunks_;
    std::size_t size_ = 0;
};

}  // namespace pivrak
