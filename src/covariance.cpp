#include "covariance.h"

#define USE_FC_LEN_T
#include <R_ext/Lapack.h>

#include <cmath>
#include <cstddef>
#ifndef FCONE
#define FCONE
#endif

namespace fairlattice {

bool divide_by_covariance(std::vector<double> A, int rows, double* B, int columns) {
  const std::size_t n = rows;
  std::vector<double> scale(n);
  for (std::size_t i = 0; i < n; ++i) {
    scale[i] = std::sqrt(A[i + n * i]);
    if (!(scale[i] > 0) || std::isinf(scale[i])) return false;
  }
  for (std::size_t j = 0; j < n; ++j)
    for (std::size_t i = 0; i < n; ++i) A[i + n * j] /= scale[i] * scale[j];
  int info = 0;
  F77_CALL(dpotrf)("U", &rows, A.data(), &rows, &info FCONE);
  if (info != 0) return false;
  for (std::size_t i = 0; i < n; ++i)
    if (!(A[i + n * i] >= 1e-6)) return false;
  auto rescale = [&] {
    for (int j = 0; j < columns; ++j)
      for (std::size_t i = 0; i < n; ++i) B[i + n * j] /= scale[i];
  };
  rescale();
  F77_CALL(dpotrs)("U", &rows, &columns, A.data(), &rows, B, &rows, &info FCONE);
  rescale();
  return info == 0;
}

}  // namespace fairlattice
