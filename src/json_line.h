// Lines of JSON (RFC 8259), each an object whose values are single: texts, numbers, true, false or
// null. Plain C++ on plain types.
#pragma once
#include <cstddef>
#include <string>
#include <unordered_map>
#include <vector>

#include "text_cell.h"

namespace fairlattice {

class JsonLine {
 public:
  enum class Is { record, blank, fault };

  explicit JsonLine(const std::vector<std::string>& keys);
  // The cells of a line, by the place of their key, as they stand there, texts in their quotes; of
  // size 0 where there is null or no such key. Of a key that is met twice the first counts. What is
  // no such object, and a key that is none of those known, is a fault.
  Is read(const char* p, const char* end, TextCell* cells);

 private:
  bool key_at(const char*& p, const char* end, std::size_t& place);

  std::vector<std::string> quoted_;  // keys as lines write them; "" where that is not one way
  std::unordered_map<std::string, std::size_t> places_;
  std::vector<std::size_t> seen_;  // the line a key was met in last
  std::size_t line_ = 0;
};

}  // namespace fairlattice
