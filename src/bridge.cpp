// The only file that knows both R and the kernels: unwraps R vectors, calls a kernel, names what comes back.
#include <Rcpp.h>

#include "codes.h"
#include "fixed_margins.h"
#include "reasons.h"
#include "tally.h"

namespace {

template <class Vector, class Value>
const Value* pointer_or_null(SEXP x) {
  return Rf_isNull(x) ? nullptr : static_cast<const Value*>(Vector(x).begin());
}

fairlattice::Margins margins_of(const Rcpp::IntegerVector& rows, const Rcpp::IntegerVector& columns, double observed) {
  return {std::vector<int>(rows.begin(), rows.end()), std::vector<int>(columns.begin(), columns.end()), observed};
}

}  // namespace

// [[Rcpp::export]]
Rcpp::List exact_kernel(Rcpp::IntegerVector rows, Rcpp::IntegerVector columns, double observed, double most_steps, double most_bytes, int threads) {
  const fairlattice::ExactResult out = fairlattice::exact_test(margins_of(rows, columns, observed), most_steps, most_bytes, threads);
  return Rcpp::List::create(Rcpp::_["p"] = out.p, Rcpp::_["finished"] = out.finished, Rcpp::_["steps"] = out.steps);
}

// Chunks first..last-1 of 1,000 random tables each.
// [[Rcpp::export]]
double count_random_kernel(Rcpp::IntegerVector rows, Rcpp::IntegerVector columns, double observed, double seed, int first, int last, int threads) {
  return static_cast<double>(fairlattice::count_random(margins_of(rows, columns, observed), static_cast<std::uint64_t>(seed), first, last, threads));
}

// [[Rcpp::export]]
Rcpp::IntegerVector random_table_kernel(Rcpp::IntegerVector rows, Rcpp::IntegerVector columns, double seed, int number) {
  const std::vector<int> table = fairlattice::random_table(margins_of(rows, columns, 0), static_cast<std::uint64_t>(seed), number);
  return Rcpp::IntegerVector(table.begin(), table.end());
}

// [[Rcpp::export]]
Rcpp::List tally_kernel(Rcpp::IntegerVector down, Rcpp::IntegerVector across, SEXP each, SEXP unit, SEXP weight,
                        SEXP count, SEXP aside, int down_answers, int across_answers, int each_answers, int units,
                        int threads) {
  using namespace Rcpp;
  fairlattice::Records records{
      static_cast<std::size_t>(down.size()), down.begin(), across.begin(),
      pointer_or_null<IntegerVector, int>(each), pointer_or_null<IntegerVector, int>(unit),
      pointer_or_null<NumericVector, double>(weight), pointer_or_null<NumericVector, double>(count),
      pointer_or_null<IntegerVector, int>(aside), down_answers, across_answers, each_answers, units};
  fairlattice::Tally t = fairlattice::tally(records, threads);

  const R_xlen_t size = t.cell.size();
  NumericVector n_records(size), n(size), weighted(size), weighted_squared(size);
  for (R_xlen_t i = 0; i < size; ++i) {
    n_records[i] = t.cell[i].records;
    n[i] = t.cell[i].respondents;
    weighted[i] = t.cell[i].weight;
    weighted_squared[i] = t.cell[i].weight_squared;
  }
  return List::create(_["unit"] = t.unit, _["down"] = t.down, _["across"] = t.across, _["each"] = t.each,
                      _["records"] = n_records, _["n"] = n, _["w"] = weighted, _["w2"] = weighted_squared);
}

// Sums of w over places 1..cells; place 0 is nowhere.
// [[Rcpp::export]]
Rcpp::NumericVector sum_by_cell_kernel(Rcpp::IntegerVector place, Rcpp::NumericVector w, int cells) {
  std::vector<double> sum(static_cast<std::size_t>(cells) + 1, 0.0);
  for (R_xlen_t i = 0, size = place.size(); i < size; ++i) sum[place[i]] += w[i];
  return Rcpp::NumericVector(sum.begin() + 1, sum.end());
}

// [[Rcpp::export]]
Rcpp::NumericVector missing_for_kernel(Rcpp::IntegerVector reasons) {
  Rcpp::NumericVector out(reasons.size());
  for (R_xlen_t i = 0; i < reasons.size(); ++i) out[i] = fairlattice::missing_for(reasons[i]);
  return out;
}

// [[Rcpp::export]]
Rcpp::IntegerVector reason_of_kernel(Rcpp::NumericVector x) {
  Rcpp::IntegerVector out(x.size());
  for (R_xlen_t i = 0; i < x.size(); ++i) out[i] = Rcpp::NumericVector::is_na(x[i]) ? fairlattice::reason_of(x[i]) : 0;
  return out;
}

// [[Rcpp::export]]
Rcpp::List place_codes_kernel(Rcpp::IntegerVector x, Rcpp::IntegerVector known, int blank, int threads) {
  Rcpp::IntegerVector out(Rcpp::no_init(x.size()));
  const double unknown = fairlattice::place_codes(x.begin(), x.size(), known.begin(), known.size(), blank,
                                                     out.begin(), threads);
  return Rcpp::List::create(Rcpp::_["codes"] = out, Rcpp::_["unknown"] = unknown);
}

// Whether a text column needs a closer look: a byte beyond ASCII, or a doubled quote. Most need none.
// [[Rcpp::export]]
bool plain_text_kernel(Rcpp::CharacterVector x) {
  for (R_xlen_t i = 0; i < x.size(); ++i) {
    const SEXP cell = STRING_ELT(x, i);
    if (i > 0 && cell == STRING_ELT(x, i - 1)) continue;
    const char* text = CHAR(cell);
    for (int k = 0, size = LENGTH(cell); k < size; ++k)
      if (static_cast<unsigned char>(text[k]) > 127 || (text[k] == '"' && k > 0 && text[k - 1] == '"')) return false;
  }
  return true;
}
