#include "core/model/comments.hpp"

#include <algorithm>
#include <map>

#include "core/model/text_walk.hpp"

namespace anvil::model {
namespace {

std::string parentOf(const std::string& path) {
  const auto slash = path.rfind('/');
  return slash == std::string::npos ? "" : path.substr(0, slash);
}

size_t lineStart(const std::string& text, size_t at) {
  const auto before = at == 0 ? std::string::npos : text.rfind('\n', at - 1);
  return before == std::string::npos ? 0 : before + 1;
}
size_t lineEnd(const std::string& text, size_t at) { return std::min(text.find('\n', at), text.size()); }

Comment place(const std::string& text, const TextMap& map, const TextComment& c) {
  Comment comment;
  comment.text = text.substr(c.start, c.end - c.start);
  const size_t start = lineStart(text, c.start);
  const auto last = text.find_last_not_of(" \t", c.start == 0 ? 0 : c.start - 1);
  const bool alone = c.start == 0 || last == std::string::npos || last < start;
  const TextItem *next = nullptr, *before = nullptr, *around = nullptr;
  for (const auto& item : map.items) {
    if (item.start >= c.end && !next) next = &item;
    if (item.end <= c.start && (!before || item.end > before->end)) before = &item;  // the outermost that ends last
    if (item.start < c.start && item.end > c.start) around = &item;                  // the innermost
  }
  if (alone) {
    if (next && (!around || next->end <= around->end)) {
      comment.path = next->path, comment.where = Comment::Where::above;
    } else {
      comment.path = around ? around->path : "", comment.where = around ? Comment::Where::below : Comment::Where::after;
    }
  } else if (around && (around->value == last || before == nullptr || before->end <= around->start)) {
    comment.path = around->path, comment.where = around->value == last ? Comment::Where::opening : Comment::Where::behind;
  } else if (before) {
    comment.path = before->path, comment.where = Comment::Where::behind;
  }
  return comment;
}

/// Text with every line after the first moved in.
std::string indented(const std::string& text, const std::string& pad) {
  std::string moved = pad;
  for (size_t i = 0; i < text.size(); ++i) {
    moved += text[i];
    if (text[i] == '\n') {
      const auto first = text.find_first_not_of(" \t", i + 1);
      moved += pad + (first != std::string::npos && text[first] == '*' ? " " : "");
      i = (first == std::string::npos ? text.size() : first) - 1;
    }
  }
  return moved;
}

}  // namespace

std::vector<Comment> commentsIn(const std::string& text) {
  const auto map = walkText(text);
  std::vector<Comment> comments;
  for (const auto& c : map.comments) comments.push_back(place(text, map, c));
  return comments;
}

std::set<std::string> commentedPaths(const std::vector<Comment>& comments) {
  std::set<std::string> paths;
  for (const auto& c : comments) {
    if (c.where == Comment::Where::opening || c.where == Comment::Where::below) paths.insert(c.path);
    for (std::string p = c.path; !p.empty(); p = parentOf(p)) paths.insert(parentOf(p));
  }
  return paths;
}

std::string withComments(const std::string& text, const std::vector<Comment>& comments) {
  if (comments.empty()) return text;
  const auto map = walkText(text);
  std::map<std::string, const TextItem*> items;
  for (const auto& item : map.items) items.emplace(item.path, &item);
  std::multimap<size_t, std::string> inserted;  // before this place of the text
  std::set<size_t> taken;                       // ends of lines that have a comment
  for (const auto& c : comments) {
    if (c.where == Comment::Where::after) {
      inserted.emplace(text.size(), c.text + "\n");
      continue;
    }
    std::string path = c.path;
    auto where = c.where;
    while (!items.contains(path)) path = parentOf(path), where = Comment::Where::above;
    const auto& item = *items.at(path);
    if (where == Comment::Where::below) {
      const size_t close = item.end - 1;
      const size_t line = lineStart(text, close);
      if (line <= item.value)
        where = Comment::Where::behind;  // it fits on one line
      else {
        const auto pad = text.substr(line, close - line) + "  ";
        inserted.emplace(line, indented(c.text, pad) + "\n");
        continue;
      }
    }
    if (where == Comment::Where::behind || where == Comment::Where::opening) {
      const size_t end = lineEnd(text, where == Comment::Where::opening ? item.value : item.end - (item.end > item.value));
      if (c.text.find('\n') == std::string::npos && taken.insert(end).second) {
        inserted.emplace(end, "  " + c.text);
        continue;
      }
    }
    const size_t line = lineStart(text, item.start);
    inserted.emplace(line, indented(c.text, text.substr(line, text.find_first_not_of(' ', line) - line)) + "\n");
  }
  std::string all;
  size_t at = 0;
  for (const auto& [where, words] : inserted) all += text.substr(at, where - at) + words, at = where;
  return all + text.substr(at);
}

}  // namespace anvil::model
