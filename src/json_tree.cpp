#include "json_tree.h"

#include "json_scan.h"

namespace fairlattice {
namespace {

class Reader {
 public:
  Reader(const char* p, const char* end) : p_(p), end_(end) {}

  JsonRead read(int deepest, JsonTree& tree) {
    const JsonRead found = value(deepest, tree);
    if (found != JsonRead::whole) return found;
    over_blanks(p_, end_);
    return p_ == end_ ? JsonRead::whole : JsonRead::fault;
  }

 private:
  // The sign that comes next, blanks left out.
  bool over(char sign) {
    over_blanks(p_, end_);
    if (p_ == end_ || *p_ != sign) return false;
    ++p_;
    return true;
  }

  JsonRead text(std::string& to) {
    const char* from = p_;
    bool plain;
    if (!over_text(p_, end_, plain)) return JsonRead::fault;
    to = plain ? std::string(from, p_ - 1) : unescaped(from, p_ - 1);
    return to.find('\0') == std::string::npos ? JsonRead::whole : JsonRead::zero;
  }

  JsonRead value(int deepest, JsonTree& tree) {
    if (over('{')) return parts('}', deepest, tree);
    if (over('[')) return parts(']', deepest, tree);
    if (over('"')) {
      tree.is = JsonTree::Is::text;
      return text(tree.text);
    }
    if (over_word(p_, end_, "null", 4)) return JsonRead::whole;
    const char* from = p_;
    tree.is = over_word(p_, end_, "true", 4)    ? JsonTree::Is::yes
              : over_word(p_, end_, "false", 5) ? JsonTree::Is::no
                                                : JsonTree::Is::number;
    if (tree.is != JsonTree::Is::number) return JsonRead::whole;
    if (!over_number(p_, end_)) return JsonRead::fault;
    tree.text.assign(from, p_);
    return JsonRead::whole;
  }

  // What stands in a list or a record, to behind its last bracket.
  JsonRead parts(char close, int deepest, JsonTree& tree) {
    if (deepest == 0) return JsonRead::too_deep;
    tree.is = close == '}' ? JsonTree::Is::record : JsonTree::Is::list;
    if (over(close)) return JsonRead::whole;
    do {
      if (close == '}') {
        if (!over('"')) return JsonRead::fault;
        tree.keys.emplace_back();
        const JsonRead key = text(tree.keys.back());
        if (key != JsonRead::whole) return key;
        if (!over(':')) return JsonRead::fault;
      }
      tree.parts.emplace_back();
      const JsonRead found = value(deepest - 1, tree.parts.back());
      if (found != JsonRead::whole) return found;
    } while (over(','));
    return over(close) ? JsonRead::whole : JsonRead::fault;
  }

  const char *p_, *end_;
};

}  // namespace

JsonRead read_json(const char* p, const char* end, int deepest, JsonTree& tree) {
  return Reader(p, end).read(deepest, tree);
}

}  // namespace fairlattice
