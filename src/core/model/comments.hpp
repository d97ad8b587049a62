// Comments of a model file: read with the model, kept while it is edited, written back where they stood.
#pragma once
#include <set>
#include <string>
#include <vector>

namespace anvil::model {

/// A comment, verbatim with its slashes, and where it stands.
struct Comment {
  enum class Where {
    above,
    behind,
    opening,
    below,
    after
  };  ///< a value; behind the bracket that opens it; below the last one inside; after the whole model
  std::string path;
  Where where = Where::above;
  std::string text;
  bool operator==(const Comment&) const = default;
};

/// The comments of a model file's text, in order.
std::vector<Comment> commentsIn(const std::string& text);

/// Puts comments into printed text. One whose value is gone stands at the nearest value around it.
std::string withComments(const std::string& text, const std::vector<Comment>& comments);

/// Paths of the lists and objects that need lines of their own, since comments stand in them.
std::set<std::string> commentedPaths(const std::vector<Comment>& comments);

}  // namespace anvil::model
