#include "core/linear/mumps.hpp"

#include <dmumps_c.h>
#include <smumps_c.h>
#include <algorithm>
#include <cmath>
#include <new>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/linear/direct_solver.hpp"

namespace anvil::linear {
namespace {

/// A pivot is taken to vanish below this part: of the matrix's norm in double precision, of one (rows are scaled to it) in
/// single, where what comes that near to nothing is mostly rounding and is better looked at again in double.
template <class Number>
struct Library;
template <>
struct Library<double> {
  using Structure = DMUMPS_STRUC_C;
  static constexpr double vanishes = 1e-12;
  static void call(Structure& s) { dmumps_c(&s); }
};
template <>
struct Library<float> {
  using Structure = SMUMPS_STRUC_C;
  static constexpr float vanishes = -1e-6f;  // below zero: absolute
  static void call(Structure& s) { smumps_c(&s); }
};

/// Says why the library could not go on. `megabytes` it asked for; 0 where that is not known.
[[noreturn]] void refuse(const std::string& done, int code, int megabytes) {
  for (const int lacking : {-5, -7, -8, -9, -11, -13, -14, -17, -20})
    if (code == lacking)
      throw Error("the equations could not be " + done + ": there is not enough memory" +
                      (megabytes > 0 ? ", about " + shortNumber(megabytes, 3) + " MB are needed" : std::string()),
                  "linear solver", "Use a coarser mesh or a machine with more memory.");
  if (code == -90)
    throw Error("the factors of the equations, which do not fit into memory, could not be laid on disk or read from there",
                "linear solver", "Make room in the folder of the results, or name another in TMPDIR.");
  throw Error("the equations could not be " + done + ": they are not in order", "linear solver",
              "Check sizes, stiffnesses and units of the model.");
}

}  // namespace

template <class Number>
struct Mumps<Number>::Data {
  typename Library<Number>::Structure mumps{};
  bool live = false, symmetric = false;
  const SparsePattern* pattern = nullptr;
  std::vector<int> row, column, position, permutation, nulls;
  std::vector<Number> values, rhs;
  std::vector<double> scale;        ///< powers of two that bring the largest entry of each row near one, from both sides
  std::unique_ptr<Number[]> space;  ///< for factors and what makes them; kept, since new pages are cleared first
  std::int64_t room = 0;
  int negative = 0;
  bool onDisk = false;

  int& control(int i) { return mumps.icntl[i - 1]; }
  void call(int job) {
    mumps.job = job;
    Library<Number>::call(mumps);
  }
  void need(std::int64_t entries) {
    if (room < entries) space.reset(), space.reset(new (std::nothrow) Number[size_t(entries)]), room = space ? entries : 0;
    mumps.wk_user = space.get(), mumps.lwk_user = room > 2'000'000'000 ? -int(room / 1'000'000) : int(room);
  }
  ~Data() {
    if (live) call(-2);
  }
};

template <class Number>
Mumps<Number>::Mumps() : data_(std::make_unique<Data>()) {}
template <class Number>
Mumps<Number>::~Mumps() = default;

template <class Number>
bool Mumps<Number>::live() const {
  return data_->live;
}

template <class Number>
void Mumps<Number>::close() {
  if (data_->live) data_ = std::make_unique<Data>();
}

template <class Number>
void Mumps<Number>::analyse(const SparsePattern& p, const std::vector<int>& order, bool symmetric) {
  close();
  auto& d = *data_;
  d.pattern = &p, d.symmetric = symmetric;
  d.mumps.par = 1, d.mumps.sym = symmetric ? 2 : 0, d.mumps.comm_fortran = -987654;
  d.call(-1);
  d.live = true;
  const size_t entries = p.column.size() / (symmetric ? 2 : 1) + size_t(p.size());
  for (auto* list : {&d.row, &d.column, &d.position}) list->reserve(entries);
  for (int i = 0; i < p.size(); ++i)
    for (int k = p.start[size_t(i)]; k < p.start[size_t(i) + 1]; ++k) {
      const int j = p.column[size_t(k)];
      if (symmetric && j > i) continue;
      d.row.push_back(i + 1), d.column.push_back(j + 1), d.position.push_back(k);
    }
  d.values.resize(d.row.size());
  for (int i = 1; i <= 4; ++i) d.control(i) = i == 4 ? 0 : -1;  // quiet
  d.control(6) = 0;                                             // no column permutation: the diagonal is sound
  d.control(8) = 0;                                             // scaled here: the library's way takes several rounds
  d.control(14) = 60;                                           // head room for delayed pivots, percent
  d.control(24) = 1;                                            // find vanishing pivots
  d.control(33) = symmetric ? 0 : 1;                            // and the determinant, for its sign
  d.mumps.cntl[2] = Library<Number>::vanishes;
  if (p.size() > 50) {
    d.permutation.resize(size_t(p.size()));
    for (size_t k = 0; k < order.size(); ++k) d.permutation[size_t(order[k])] = int(k) + 1;
    d.control(7) = 1;
    d.mumps.perm_in = d.permutation.data();
  }
  d.mumps.n = p.size(), d.mumps.nnz = std::int64_t(d.row.size());
  d.mumps.irn = d.row.data(), d.mumps.jcn = d.column.data(), d.mumps.a = d.values.data();
  d.call(1);
  if (d.mumps.infog[0] < 0) refuse("analysed", d.mumps.infog[0], 0);
}

template <class Number>
void Mumps<Number>::layOnDisk(const std::string& folder) {
  auto& d = *data_;
  constexpr size_t longest = sizeof d.mumps.ooc_tmpdir - 1;
  if (folder.size() > longest)
    throw Error("the name of the folder for factors on disk is too long", folder,
                "Give a folder (TMPDIR) whose name has at most " + std::to_string(longest - 40) + " letters.");
  d.onDisk = true, d.control(22) = 1;
  std::copy_n(folder.c_str(), folder.size() + 1, d.mumps.ooc_tmpdir);
  std::copy_n("factors", 8, d.mumps.ooc_prefix);
  d.space.reset(), d.room = 0, d.mumps.wk_user = nullptr, d.mumps.lwk_user = 0;
}

template <class Number>
void Mumps<Number>::factor(const std::vector<double>& values) {
  auto& d = *data_;
  d.scale = rowScales(*d.pattern, values);
  for (size_t i = 0; i < d.position.size(); ++i)
    d.values[i] = Number(values[size_t(d.position[i])] * d.scale[size_t(d.row[i]) - 1] * d.scale[size_t(d.column[i]) - 1]);
  const auto expected = d.mumps.info[7];  // entries of the work space; in millions where it is negative
  for (int attempt = 0; attempt < 4; ++attempt) {
    if (!d.onDisk) d.need(std::int64_t((expected < 0 ? -1e6 * expected : expected) * (1 + d.control(14) / 100.)));
    d.call(2);
    const int code = d.mumps.infog[0];
    if (code != -8 && code != -9 && code != -11) break;
    d.control(14) *= 2;  // more work space
  }
  const int code = d.mumps.infog[0];
  if (code < 0 && code != -10) refuse("factorised", code, d.mumps.infog[15]);
  d.nulls.clear();
  for (int i = 0; i < d.mumps.infog[27]; ++i) d.nulls.push_back(d.mumps.pivnul_list[i] - 1);
  if (code == -10) d.nulls.push_back(0);
  d.negative = d.symmetric ? d.mumps.infog[11] : d.nulls.empty() && d.mumps.rinfog[11] < 0;
}

template <class Number>
void Mumps<Number>::solve(Eigen::VectorXd& rhs) {
  auto& d = *data_;
  // single precision has no room for what is very small or large
  const double most = rhs.size() ? rhs.cwiseAbs().maxCoeff() : 0;
  if (!(most > 0)) return;
  d.rhs.resize(size_t(rhs.size()));
  for (Eigen::Index i = 0; i < rhs.size(); ++i) d.rhs[size_t(i)] = Number(rhs[i] / most * d.scale[size_t(i)]);
  d.mumps.rhs = d.rhs.data(), d.mumps.nrhs = 1, d.mumps.lrhs = d.mumps.n;
  d.call(3);
  if (d.mumps.infog[0] < 0) refuse("solved", d.mumps.infog[0], d.mumps.infog[15]);
  for (Eigen::Index i = 0; i < rhs.size(); ++i) rhs[i] = double(d.rhs[size_t(i)]) * d.scale[size_t(i)] * most;
}

template <class Number>
const std::vector<int>& Mumps<Number>::nullPivots() const {
  return data_->nulls;
}
template <class Number>
int Mumps<Number>::negativePivots() const {
  return data_->negative;
}
template <class Number>
FactorCost Mumps<Number>::cost() const {
  const int entries = data_->mumps.infog[19];  // in millions where it is negative
  return {entries < 0 ? -1e6 * entries : double(entries), double(data_->mumps.rinfog[0])};
}
/// The library's word, without the room that is there for delayed pivots and rarely touched.
template <class Number>
double Mumps<Number>::memory() const {
  return data_->mumps.infog[15] / (1 + 0.9 * data_->control(14) / 100);
}
template <class Number>
double Mumps<Number>::memoryBesideDisk() const {
  return data_->mumps.infog[25] / (1 + 0.9 * data_->control(14) / 100);
}
template <class Number>
double Mumps<Number>::disk() const {
  return 1e-6 * sizeof(Number) * cost().entries;
}

template class Mumps<double>;
template class Mumps<float>;

}  // namespace anvil::linear
