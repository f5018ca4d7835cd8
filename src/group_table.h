// Groups of records by a number that all of a group share, with their sums. Plain C++ on plain
// types: no R objects here.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

#include "hash.h"

namespace fairlattice {

// Half a line of memory, so that none lies on two.
struct alignas(32) Group {
  std::uint64_t key;
  double n, w, w2;
};

// Groups by their keys, found through slots that are small enough to stay near: the place of a
// group, + 1 (0: free), in as many bits as a place among the slots has, and above it a part of its
// hash, so that a group in the way of another is passed by without a look.
class GroupTable {
 public:
  GroupTable() : slots_(256) {}

  std::vector<Group> groups;

  // Gives `use` the number of every key, from 0, and the place of its group, which is made anew
  // where there is none. Some keys at a time, so that the memory of their groups is on its way
  // before it is needed.
  template <typename Use>
  void each(const std::uint64_t* keys, std::size_t size, const Use& use) {
    hashes_.resize(size);
    for (std::size_t i = 0; i < size; ++i) {
      hashes_[i] = mixed(keys[i]);
      ahead(&slots_[hashes_[i] & last()]);
    }
    for (std::size_t i = 0; i < size; ++i) {
      const std::size_t likely = group_in(slot_of(hashes_[i], hashes_[i]));
      if (likely) ahead(&groups[likely - 1]);
    }
    for (std::size_t i = 0; i < size; ++i) use(i, place_of(keys[i], hashes_[i]));
  }

  // The slots anew, after keys have been changed; all are still different.
  void place(std::size_t size) {
    slots_.assign(size, 0);
    for (std::size_t g = 0; g < groups.size(); ++g) {
      const std::uint64_t hash = mixed(groups[g].key);
      std::size_t at = hash & last();
      while (slots_[at]) at = (at + 1) & last();
      put(at, g, hash);
    }
  }
  void place() { place(slots_.size()); }

 private:
  std::size_t last() const { return slots_.size() - 1; }
  std::uint32_t part_of(std::uint64_t hash) const {
    return static_cast<std::uint32_t>(hash >> 32) & ~static_cast<std::uint32_t>(last());
  }
  std::size_t group_in(std::size_t slot) const { return slots_[slot] & last(); }
  void put(std::size_t slot, std::size_t group, std::uint64_t hash) {
    slots_[slot] = static_cast<std::uint32_t>(group + 1) | part_of(hash);
  }
  // The first slot, from `at` on, that is free or may be of a hash.
  std::size_t slot_of(std::uint64_t hash, std::size_t at) const {
    const std::uint32_t part = part_of(hash);
    for (at &= last(); slots_[at] && (slots_[at] & ~last()) != part;) at = (at + 1) & last();
    return at;
  }
  std::size_t place_of(std::uint64_t key, std::uint64_t hash) {
    std::size_t at = slot_of(hash, hash);
    for (; slots_[at]; at = slot_of(hash, at + 1))
      if (groups[group_in(at) - 1].key == key) return group_in(at) - 1;
    groups.push_back(Group{key, 0, 0, 0});
    put(at, groups.size() - 1, hash);
    if (groups.size() * 2 > slots_.size()) place(slots_.size() * 2);
    return groups.size() - 1;
  }

  std::vector<std::uint32_t> slots_;
  std::vector<std::uint64_t> hashes_;
};

}  // namespace fairlattice
