#include "delimited.h"

#include <algorithm>
#include <cstring>

namespace fairlattice {
namespace {

enum class At {
  start,
  bare,
  quoted,
  quote,
  closed
};  // of a cell; `quote`: a quote was met inside quotes

class Scan {
 public:
  Scan(char separator, bool text, const SeeCell& see)
      : separator_(separator), text_(text), see_(see) {}

  bool take(const char* from, std::size_t size) {
    const char* end = from + size;
    // a piece without any of these needs no second look at its lines
    const bool odd_signs = std::memchr(from, '"', size) || std::memchr(from, '\r', size) ||
                           std::memchr(from, '\0', size);
    while (from < end) {
      // most lines have no quote in them, and counting their separators is enough
      if (!text_ && kept_header_ && column_ == 0 && at_ == At::start && !started_ &&
          !after_return_) {
        const char* stop = static_cast<const char*>(std::memchr(from, '\n', end - from));
        if (stop && plain_line(from, stop, odd_signs)) {
          if (out.fault != Fault::none) return false;
          from = stop + 1;
          continue;
        }
      }
      // otherwise character by character, to the end of this line or piece
      const double line = begins_;
      while (from < end && begins_ == line)
        if (!put(*from++)) return false;
    }
    return true;
  }

  void finish() {
    if (out.fault != Fault::none) return;
    if (at_ == At::quoted) return fail(Fault::unclosed, opened_, 0);
    if (started_ || column_ > 0) end_line();
    if (out.fault != Fault::none) return;
    out.blank += static_cast<double>(
        waiting_.size());  // blank lines at the end are no records of a single column
    if (!offset_) out.lines.clear();
  }

  Delimited out;

 private:
  // One line of cells without quotes; false when it is not one.
  bool plain_line(const char* from, const char* stop, bool odd_signs) {
    if (stop > from && stop[-1] == '\r') --stop;
    const std::size_t size = stop - from;
    if (odd_signs && (std::memchr(from, '"', size) || std::memchr(from, '\r', size) ||
                      std::memchr(from, '\0', size)))
      return false;
    const auto separators = static_cast<std::size_t>(std::count(from, stop, separator_));
    const double line = begins_;
    begins_ = ++line_;
    if (separators == 0 && std::all_of(from, stop, [this](char c) { return space(c); })) {
      waiting_.push_back(line);
    } else if (separators + 1 != out.header.size()) {
      fail(Fault::ragged, line, static_cast<double>(separators + 1));
    } else {
      pass_blanks();
      record(line);
    }
    return true;
  }

  bool space(char c) const { return c == ' ' || (c == '\t' && separator_ != '\t'); }

  bool put(char c) {
    if (c == '\0') return fail(Fault::nul, line_, 0), false;
    if (after_return_) {
      after_return_ = false;
      if (c == '\n') return true;  // the second half of a line end
      out.odd = true;
    }
    if (at_ == At::quoted) {
      if (c == '"')
        at_ = At::quote;
      else {
        if (c == '\n') ++line_;
        add(c);
      }
      return true;
    }
    if (at_ == At::quote) {
      if (c == '"') {
        add(c);
        at_ = At::quoted;
        return true;
      }
      at_ = At::closed;
    }
    if (c == separator_) return end_cell(), true;
    if (c == '\n' || c == '\r') {
      after_return_ = c == '\r';
      return end_line();
    }
    started_ = true;
    if (at_ == At::closed) {
      if (space(c)) return true;
      return fail(Fault::after_quote, line_, 0), false;
    }
    if (at_ == At::start) {
      if (space(c)) return true;
      if (c == '"') {
        at_ = At::quoted;
        opened_ = line_;
        return true;
      }
      at_ = At::bare;
    }
    if (c == '"') out.odd = true;
    add(c);
    return true;
  }

  void add(char c) {
    if (text_ || !kept_header_) cell_.push_back(c);
  }

  void end_cell() {
    if (at_ != At::closed && at_ != At::quote)
      while (!cell_.empty() && space(cell_.back())) cell_.pop_back();
    if (!kept_header_)
      out.header.push_back(cell_);
    else if (text_ && column_ < out.header.size())
      row_.push_back(cell_);
    ++column_;
    cell_.clear();
    at_ = At::start;
    started_ = true;
  }

  bool end_line() {
    const bool blank = column_ == 0 && (at_ == At::start);
    const double line = begins_;
    if (blank) {
      if (!kept_header_)
        end_cell();  // a blank first line: a header of one cell without a name
      else
        waiting_.push_back(line);
    } else {
      end_cell();
    }
    if (!kept_header_) {
      kept_header_ = true;
    } else if (!blank) {
      if (column_ != out.header.size())
        return fail(Fault::ragged, line, static_cast<double>(column_)), false;
      pass_blanks();
      record(line);
    }
    column_ = 0;
    started_ = false;
    row_.clear();
    begins_ = ++line_;
    return true;
  }

  // Blank lines that stand before a record: answers that are not there when there is
  // one column, nothing otherwise.
  void pass_blanks() {
    if (waiting_.empty()) return;
    if (out.header.size() == 1) {
      std::vector<std::string> row;
      row.swap(row_);
      for (double line : waiting_) {
        row_.assign(1, std::string());
        record(line);
      }
      row_.swap(row);
    } else {
      out.blank += static_cast<double>(waiting_.size());
    }
    waiting_.clear();
  }

  void record(double line) {
    if (text_)
      for (std::size_t j = 0; j < row_.size(); ++j)
        see_(static_cast<std::size_t>(out.records), j, row_[j]);
    out.records += 1;
    if (!offset_ && line != out.records + 1) {  // from here on lines are kept one by one
      offset_ = true;
      for (double k = 1; k < out.records; ++k) out.lines.push_back(k + 1);
    }
    if (offset_) out.lines.push_back(line);
  }

  void fail(Fault fault, double line, double cells) {
    out.fault = fault;
    out.line = line;
    out.cells = cells;
  }

  char separator_;
  bool text_;
  const SeeCell& see_;
  At at_ = At::start;
  std::string cell_;
  std::vector<std::string> row_;
  std::vector<double> waiting_;
  std::size_t column_ = 0;
  double line_ = 1, begins_ = 1, opened_ = 1;
  bool kept_header_ = false, started_ = false, after_return_ = false, offset_ = false;
};

}  // namespace

Delimited scan_delimited(std::FILE* file, char separator, bool text, const SeeCell& see) {
  Scan scan(separator, text, see);
  std::vector<char> piece(1 << 20);
  bool first = true;
  while (std::size_t size = std::fread(piece.data(), 1, piece.size(), file)) {
    std::size_t from = 0;
    if (first && size >= 3 && piece[0] == '\xef' && piece[1] == '\xbb' && piece[2] == '\xbf')
      from = 3;  // a byte-order mark
    first = false;
    if (!scan.take(piece.data() + from, size - from)) return scan.out;
  }
  if (std::ferror(file)) scan.out.fault = Fault::unreadable;
  scan.finish();
  return scan.out;
}

}  // namespace fairlattice
