// Where things stand in a model file's text: every value with its path, and every comment.
#pragma once
#include <string>
#include <vector>

namespace anvil::model {

/// A value in the text. Paths are keys and 1-based positions joined by '/'; the whole model's is empty.
struct TextItem {
  std::string path;
  size_t start = 0;  ///< of its key, or of itself in a list
  size_t value = 0;  ///< of itself
  size_t end = 0;    ///< just behind it
};

struct TextComment {
  size_t start = 0, end = 0;  ///< from the first slash to just behind the last character
};

struct TextMap {
  std::vector<TextItem> items;  ///< in the order they begin: an object before what is in it
  std::vector<TextComment> comments;
};

/// Walks JSON text with // and /* */ comments. Faulty text is walked as far as it makes sense; nothing is thrown.
TextMap walkText(const std::string& text);

}  // namespace anvil::model
