#include "json_line.h"

#include "json_scan.h"

namespace fairlattice {

JsonLine::JsonLine(const std::vector<std::string>& keys) : seen_(keys.size(), 0) {
  for (std::size_t k = 0; k < keys.size(); ++k) {
    bool plain;
    const std::string quoted = '"' + keys[k] + '"';
    const char *p = quoted.data() + 1, *end = quoted.data() + quoted.size();
    quoted_.push_back(over_text(p, end, plain) && plain && p == end ? quoted : "");
    places_.emplace(keys[k], k);
  }
}

// The place of the key at `p`, its opening quote; the one that is expected is `place`.
bool JsonLine::key_at(const char*& p, const char* end, std::size_t& place) {
  if (place < quoted_.size()) {
    const std::string& next = quoted_[place];
    if (!next.empty() && over_word(p, end, next.data(), next.size())) return true;
  }
  if (p == end || *p != '"') return false;
  const char* from = ++p;
  bool plain;
  if (!over_text(p, end, plain)) return false;
  const auto found = places_.find(plain ? std::string(from, p - 1 - from) : unescaped(from, p - 1));
  if (found == places_.end()) return false;
  place = found->second;
  return true;
}

JsonLine::Is JsonLine::read(const char* p, const char* end, TextCell* cells) {
  over_blanks(p, end);
  if (p == end) return Is::blank;
  if (*p++ != '{') return Is::fault;
  ++line_;
  std::size_t met = 0, place = 0;
  over_blanks(p, end);
  for (bool more = p < end && *p != '}'; more;) {
    if (!key_at(p, end, place)) return Is::fault;
    over_blanks(p, end);
    if (p == end || *p++ != ':') return Is::fault;
    over_blanks(p, end);
    if (p == end) return Is::fault;
    TextCell cell = {p, 0};
    bool plain;
    const bool good = *p == '"'   ? over_text(++p, end, plain)
                      : *p == 't' ? over_word(p, end, "true", 4)
                      : *p == 'f' ? over_word(p, end, "false", 5)
                      : *p == 'n' ? over_word(p, end, "null", 4)
                                  : over_number(p, end);
    if (!good) return Is::fault;
    if (*cell.from != 'n') cell.size = static_cast<std::size_t>(p - cell.from);
    if (seen_[place] != line_) {
      seen_[place] = line_;
      cells[place] = cell;
      ++met;
    }
    ++place;
    over_blanks(p, end);
    if (p == end) return Is::fault;
    more = *p == ',';
    if (more) {
      ++p;
      over_blanks(p, end);
    }
  }
  if (p == end || *p++ != '}') return Is::fault;
  over_blanks(p, end);
  if (p != end) return Is::fault;
  if (met < seen_.size())
    for (std::size_t k = 0; k < seen_.size(); ++k)
      if (seen_[k] != line_) cells[k] = {end, 0};
  return Is::record;
}

}  // namespace fairlattice
