// Vectors, matrices and lists of R for the bridge: what came in (of the type that a kernel works
// on, coerced where it is another), and what is made anew, all 0.
#pragma once
#include <algorithm>
#include <cpp11.hpp>
#include <cstring>
#include <string>
#include <vector>

namespace fairlattice {

inline int* data_of(SEXP x, int*) { return TYPEOF(x) == LGLSXP ? LOGICAL(x) : INTEGER(x); }
inline double* data_of(SEXP x, double*) { return REAL(x); }
inline unsigned char* data_of(SEXP x, unsigned char*) { return RAW(x); }

template <typename T, SEXPTYPE type>
class Values {
 public:
  Values(SEXP x)
      : held_(TYPEOF(x) == type ? x : cpp11::safe[Rf_coerceVector](x, type)),
        data_(data_of(held_, static_cast<T*>(nullptr))),
        size_(Rf_xlength(held_)) {}
  operator SEXP() const { return held_; }
  R_xlen_t size() const { return size_; }
  T operator[](R_xlen_t i) const { return data_[i]; }
  const T* begin() const { return data_; }
  const T* end() const { return data_ + size_; }

 private:
  cpp11::sexp held_;
  const T* data_;
  R_xlen_t size_;
};
using Integers = Values<int, INTSXP>;
using Logicals = Values<int, LGLSXP>;
using Numbers = Values<double, REALSXP>;
using RawBytes = Values<unsigned char, RAWSXP>;

template <typename T, SEXPTYPE type>
class NewValues {
 public:
  explicit NewValues(R_xlen_t size)
      : held_(cpp11::safe[Rf_allocVector](type, size)),
        data_(data_of(held_, static_cast<T*>(nullptr))),
        size_(size) {
    std::fill(data_, data_ + size_, T());
  }
  template <typename Iterator>
  NewValues(Iterator from, Iterator to) : NewValues(static_cast<R_xlen_t>(to - from)) {
    std::copy(from, to, data_);
  }
  template <typename From>
  explicit NewValues(const std::vector<From>& from) : NewValues(from.begin(), from.end()) {}
  operator SEXP() const { return held_; }
  R_xlen_t size() const { return size_; }
  T& operator[](R_xlen_t i) { return data_[i]; }
  T* begin() { return data_; }
  T* end() { return data_ + size_; }

 private:
  cpp11::sexp held_;
  T* data_;
  R_xlen_t size_;
};
using NewIntegers = NewValues<int, INTSXP>;
using NewLogicals = NewValues<int, LGLSXP>;
using NewNumbers = NewValues<double, REALSXP>;
using NewBytes = NewValues<unsigned char, RAWSXP>;

template <SEXPTYPE type>
class IsMatrix : public Values<std::conditional_t<type == REALSXP, double, int>, type> {
 public:
  IsMatrix(SEXP x)
      : Values<std::conditional_t<type == REALSXP, double, int>, type>(x),
        rows_(Rf_nrows(x)),
        columns_(Rf_ncols(x)) {}
  int nrow() const { return rows_; }
  int ncol() const { return columns_; }
  auto operator()(R_xlen_t i, R_xlen_t j) const { return (*this)[i + j * rows_]; }

 private:
  int rows_, columns_;
};
using Matrix = IsMatrix<REALSXP>;
using IntegerMatrix = IsMatrix<INTSXP>;

class NewMatrix : public NewValues<double, REALSXP> {
 public:
  NewMatrix(int rows, int columns)
      : NewValues<double, REALSXP>(static_cast<R_xlen_t>(rows) * columns), rows_(rows) {
    cpp11::sexp size(cpp11::safe[Rf_allocVector](INTSXP, 2));
    INTEGER(size)[0] = rows;
    INTEGER(size)[1] = columns;
    cpp11::safe[Rf_setAttrib](static_cast<SEXP>(*this), R_DimSymbol, static_cast<SEXP>(size));
  }
  double& operator()(R_xlen_t i, R_xlen_t j) { return (*this)[i + j * rows_]; }

 private:
  int rows_;
};

inline SEXP utf8(const std::string& x) {
  return cpp11::safe[Rf_mkCharLenCE](x.data(), static_cast<int>(x.size()), CE_UTF8);
}

// What R is kept from clearing up as long as this is there.
class Held {
 public:
  operator SEXP() const { return held_; }
  R_xlen_t size() const { return Rf_xlength(held_); }

 protected:
  explicit Held(SEXP x) : held_(x) {}
  Held(SEXP x, SEXPTYPE type, const char* what) : held_(x) {
    if (TYPEOF(x) != type) cpp11::stop("internal: %s of another type", what);
  }
  cpp11::sexp held_;
};

class Texts : public Held {
 public:
  Texts(SEXP x) : Held(x, STRSXP, "texts") {}
  SEXP operator[](R_xlen_t i) const { return STRING_ELT(held_, i); }
};

class List : public Held {
 public:
  List(SEXP x) : Held(x, VECSXP, "a list") {}
  SEXP operator[](R_xlen_t i) const { return VECTOR_ELT(held_, i); }
  // by its name; NULL where there is none
  SEXP part(const char* name) const {
    const SEXP names = Rf_getAttrib(held_, R_NamesSymbol);  // held by the list
    for (R_xlen_t i = 0; i < Rf_xlength(names); ++i)
      if (std::strcmp(CHAR(STRING_ELT(names, i)), name) == 0) return VECTOR_ELT(held_, i);
    return R_NilValue;
  }
};

// Texts made anew, of a vector that is filled place by place.
class NewTexts : public Held {
 public:
  explicit NewTexts(R_xlen_t size) : Held(cpp11::safe[Rf_allocVector](STRSXP, size)) {}
  explicit NewTexts(const std::vector<std::string>& texts) : NewTexts(texts.size()) {
    for (std::size_t i = 0; i < texts.size(); ++i) set(i, texts[i]);
  }
  void set(R_xlen_t i, const std::string& text) { SET_STRING_ELT(held_, i, utf8(text)); }
};

// A list made anew, without names.
class NewList : public Held {
 public:
  explicit NewList(R_xlen_t size) : Held(cpp11::safe[Rf_allocVector](VECSXP, size)) {}
  void set(R_xlen_t i, SEXP x) { SET_VECTOR_ELT(held_, i, x); }
};

}  // namespace fairlattice

// The kernels are declared by these names.
using fairlattice::IntegerMatrix;
using fairlattice::Integers;
using fairlattice::List;
using fairlattice::Logicals;
using fairlattice::Matrix;
using fairlattice::NewBytes;
using fairlattice::NewIntegers;
using fairlattice::NewList;
using fairlattice::NewLogicals;
using fairlattice::NewMatrix;
using fairlattice::NewNumbers;
using fairlattice::NewTexts;
using fairlattice::Numbers;
using fairlattice::RawBytes;
using fairlattice::Texts;
using fairlattice::utf8;
