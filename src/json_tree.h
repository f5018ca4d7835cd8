// A text of JSON (RFC 8259) as a tree. Plain C++ on plain types.
#pragma once
#include <string>
#include <vector>

namespace fairlattice {

struct JsonTree {
  enum class Is { null, no, yes, number, text, list, record };
  Is is = Is::null;
  std::string text;               // of a text, and a number as it stands there
  std::vector<std::string> keys;  // of a record
  std::vector<JsonTree> parts;    // of a list or a record
};

enum class JsonRead { whole, fault, too_deep, zero };

// A text may not hold the sign U+0000. `deepest` is how many lists and records may stand in one
// another.
JsonRead read_json(const char* p, const char* end, int deepest, JsonTree& tree);

}  // namespace fairlattice
