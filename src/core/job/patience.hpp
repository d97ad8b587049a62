// Ends a run that was asked to stop and hears nothing, as in a large factorisation.
#pragma once
#include <condition_variable>
#include <mutex>
#include <thread>

#include "core/job/run_model.hpp"

namespace anvil::job {

/// Sees to it that a run ends soon after it was asked to.
class Patience {
 public:
  explicit Patience(const RunOptions& options) : options_(options) {
    if (options.stopAsked && options.leave) thread_ = std::thread([this] { watch(); });
  }
  ~Patience() {
    {
      const auto turn = writing();
      over_ = true;
    }
    wake_.notify_all();
    if (thread_.joinable()) thread_.join();
  }
  /// Held by whoever writes the results.
  std::unique_lock<std::mutex> writing() { return std::unique_lock(mutex_); }
  void setWriter(results::Writer* writer) {
    const auto turn = writing();
    writer_ = writer;
  }

 private:
  void watch() {
    auto turn = writing();
    for (int asked = 0; !over_; wake_.wait_for(turn, std::chrono::milliseconds(50))) {
      if (!options_.stopAsked() || ++asked < 30) continue;
      if (writer_) writer_->finish("stopped");
      options_.leave();
    }
  }
  const RunOptions& options_;
  std::mutex mutex_;
  std::condition_variable wake_;
  bool over_ = false;
  results::Writer* writer_ = nullptr;
  std::thread thread_;
};

}  // namespace anvil::job
