// Text of JSON (RFC 8259) as it is written: what holds single values only stands on a line of its
// own, numbers have every digit. Plain C++ on plain types.
#pragma once
#include <cstddef>
#include <string>
#include <vector>

namespace fairlattice {

class JsonText {
 public:
  void text(const char* from, std::size_t size);  // in UTF-8
  void number(double x);                          // null when it is missing or has no end
  void bare(const char* word);                    // null, true, false
  // A list or object ('[' or '{'), each of its parts on a line of its own when it is `tall`.
  void open(char bracket, bool tall);
  void key(const char* from, std::size_t size);  // before its value
  void close();
  const std::string& all() const { return out_; }

 private:
  struct Level {
    char bracket;
    bool tall, any;
  };
  void next();  // what stands before a part
  void quoted(const char* from, std::size_t size);
  void line() { out_ += '\n' + std::string(2 * levels_.size(), ' '); }

  std::string out_;
  std::vector<Level> levels_;
  bool keyed_ = false;  // a key was written, its value comes
};

bool valid_utf8(const char* from, std::size_t size);

}  // namespace fairlattice
