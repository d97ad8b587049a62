#include "core/model/json.hpp"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/model/comments.hpp"
#include "core/model/document.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/names.hpp"

namespace anvil::model {
namespace {

using Json = nlohmann::ordered_json;

std::string excerpt(const Json& j) { return brief(j.dump()); }

[[noreturn]] void refuse(const std::string& path, const std::string& wanted, const Json& j) {
  throw Error("expected " + wanted + ", found " + excerpt(j), path, "");
}

std::string under(const std::string& path, const std::string& key) { return path.empty() ? key : path + "/" + key; }

// ---- reading -------------------------------------------------------------------------------------------------------

void read(const Json& j, Entry& value, const std::string& path) {
  if (j.is_number()) {
    value = Entry(j.get<double>());
    if (!std::isfinite(*value.number)) refuse(path, "a finite number", j);
  } else if (j.is_string() && !j.get<std::string>().empty())
    value = Entry(j.get<std::string>());
  else
    refuse(path, "a number, a quantity such as \"12 mm\", or an expression such as \"=2*wall\"", j);
}

/// One thing stands for a list of one.
template <class T>
void read(const Json& j, std::vector<T>& values, const std::string& path) {
  values.clear();
  if (!j.is_array()) return read(j, values.emplace_back(), path);
  for (size_t i = 0; i < j.size(); ++i) read(j[i], values.emplace_back(), under(path, std::to_string(i + 1)));
}

void read(const Json& j, Stage& value, const std::string& path) {
  if (j == "hold")
    value = {How::hold, {}};
  else if (j == "off")
    value = {How::off, {}};
  else if (j.is_object()) {
    if (j.size() != 1 || !j.contains("at once")) refuse(path, "{\"at once\": value}", j);
    value.how = How::atOnce;
    read(j["at once"], value.value, path);
  } else
    value.how = How::ramp, read(j, value.value, path);
}

/// Names of an object's members, read one by one.
template <class Append>
void readNamed(const Json& j, const std::string& path, const char* forbidden, const Append& append) {
  if (!j.is_object()) refuse(path, "an object of named entries", j);
  for (const auto& [name, item] : j.items()) {
    checkName(name, path, forbidden);
    append(name, item);
  }
}

void read(const Json& j, Course& value, const std::string& path) {
  if (j.is_object() && j.contains("table")) {
    if (j.size() != 1) refuse(path, "only the table in this course", j);
    read(j["table"], value.table, under(path, "table"));
  } else if (j.is_object()) {
    value.stages.clear();
    readNamed(j, path, "./",
              [&](const std::string& name, const Json& item) { read(item, value.stages(name), under(path, name)); });
  } else
    read(j, value.value, path);
}

void read(const Json& j, Direction& value, const std::string& path) {
  if (j.is_string())
    value.axis = j.get<std::string>();
  else if (j.is_array())
    read(j, value.vector, path);
  else
    refuse(path, "an axis name or a vector", j);
}

void readObject(const Json& j, const Value& value, const std::string& path);

void readText(const Json& j, std::string& value, const Field* field, const std::string& path) {
  if (!j.is_string()) refuse(path, "text in quotes", j);
  value = j.get<std::string>();
  std::string plain = value;
  if (field && (field->key == "note" || field->key == "title"))
    std::erase_if(plain, [](char c) { return c == '\n' || c == '\t'; });
  if (hasControls(plain))
    throw Error("the text '" + brief(value) + "' holds characters that cannot be seen", path, "Take them out.");
  if (!field || field->choices.empty()) return;
  const auto& words = field->choices;
  if (std::find(words.begin(), words.end(), value) != words.end()) return;
  const auto near = nearest(value, words);
  throw Error("'" + brief(value) + "' is not one of " + inProse(words), path, near.empty() ? "" : "Did you mean '" + near + "'?");
}

/// Reads what a field holds, or an item of it.
void read(const Json& j, const Value& value, const Field* field, const std::string& path) {
  switch (value.form()) {
    case Form::flag:
      if (!j.is_boolean()) refuse(path, "true or false", j);
      value.as<bool>() = j.get<bool>();
      break;
    case Form::whole:
      if (!j.is_number_integer() || std::abs(j.get<double>()) > 1e9) refuse(path, "a whole number", j);
      value.as<int>() = j.get<int>();
      break;
    case Form::text:
      readText(j, value.as<std::string>(), field, path);
      break;
    case Form::quantity:
      read(j, value.as<Entry>(), path);
      break;
    case Form::direction:
      read(j, value.as<Direction>(), path);
      break;
    case Form::course:
      read(j, value.as<Course>(), path);
      break;
    case Form::optional:
      read(j, value.append(), field, path);
      break;
    case Form::list:
      value.clear();
      if (!j.is_array()) return read(j, value.append(), field, path);  // one thing stands for a list of one
      for (size_t i = 0; i < j.size(); ++i) read(j[i], value.append(), field, under(path, std::to_string(i + 1)));
      break;
    case Form::named:
      value.clear();
      readNamed(j, path, field && field->refers == Refers::faces ? "/" : "./", [&](const std::string& name, const Json& item) {
        const auto made = value.append();
        value.name(value.size() - 1) = name;
        read(item, made, nullptr, under(path, name));
      });
      break;
    case Form::object:
      readObject(j, value, path);
      break;
  }
}

void readObject(const Json& j, const Value& value, const std::string& path) {
  if (!j.is_object()) refuse(path, "an object { … }", j);
  for (const auto& f : value.type().fields)
    if (j.contains(f.key)) read(j[f.key], value[f], &f, under(path, f.key));
  for (const auto& [key, item] : j.items()) {
    if (value.type().find(key)) continue;
    std::vector<std::string> known;
    for (const auto& f : value.type().fields) known.push_back(f.key);
    const auto near = nearest(key, known);
    throw Error("the key '" + brief(key) + "' is not known here", under(path, key),
                near.empty() ? "Known keys: " + inProse(known) + "." : "Did you mean '" + near + "'?");
  }
}

// ---- writing -------------------------------------------------------------------------------------------------------

Json write(const Entry& v) {
  if (!v.number) return v.text.empty() ? Json(nullptr) : Json(v.text);
  if (*v.number == std::floor(*v.number) && std::abs(*v.number) < 1e15) return static_cast<long long>(*v.number);
  return *v.number;
}
template <class T>
Json write(const std::vector<T>& v) {
  Json list = Json::array();
  for (const auto& item : v) list.push_back(write(item));
  return list;
}
Json write(const Stage& s) {
  switch (s.how) {
    case How::hold:
      return "hold";
    case How::off:
      return "off";
    case How::atOnce:
      return Json{{"at once", write(s.value)}};
    case How::ramp:
      break;
  }
  return write(s.value);
}
Json write(const Course& c) {
  if (!c.table.empty()) return Json{{"table", write(c.table)}};
  if (c.stages.empty()) return write(c.value);
  Json stages = Json::object();
  for (const auto& [name, stage] : c.stages) stages[name] = write(stage);
  return stages;
}

/// Of objects, all entries that differ from a fresh one.
Json write(const Value& v) {
  switch (v.form()) {
    case Form::flag:
      return v.as<bool>();
    case Form::whole:
      return v.as<int>();
    case Form::text:
      return v.as<std::string>();
    case Form::quantity:
      return write(v.as<Entry>());
    case Form::direction: {
      const auto& d = v.as<Direction>();
      return d.vector.empty() ? Json(d.axis) : write(d.vector);
    }
    case Form::course:
      return write(v.as<Course>());
    case Form::optional:
      return v.size() ? write(v.at(0)) : Json(nullptr);
    case Form::list: {
      Json list = Json::array();
      for (size_t i = 0; i < v.size(); ++i) list.push_back(write(v.at(i)));
      return list;
    }
    case Form::named: {
      Json object = Json::object();
      for (size_t i = 0; i < v.size(); ++i) object[v.name(i)] = write(v.at(i));
      return object;
    }
    case Form::object:
      break;
  }
  Json kept = Json::object();
  for (const auto& f : v.type().fields)
    if (!(v[f] == v.fresh()[f])) kept[f.key] = write(v[f]);
  return kept;
}

// Short arrays and objects stay on one line; people read this.
std::string pretty(const Json& j, int indent, const std::string& path, const std::set<std::string>& commented) {
  const std::string flat = j.dump();
  const bool open = j.is_structured() && !j.empty() && commented.contains(path);
  if (!open && (!j.is_structured() || j.empty() || (flat.size() + size_t(indent) < 100 && indent > 2))) {
    std::string spaced;  // a space behind ':' and ',' outside quotes
    bool quoted = false;
    for (size_t i = 0; i < flat.size(); ++i) {
      if (flat[i] == '"' && (i == 0 || flat[i - 1] != '\\')) quoted = !quoted;
      spaced += flat[i];
      if (!quoted && (flat[i] == ':' || flat[i] == ',')) spaced += ' ';
    }
    return spaced;
  }
  const std::string pad(size_t(indent) + 2, ' ');
  std::string text = j.is_object() ? "{" : "[";
  int count = 0;
  for (const auto& [key, item] : j.items()) {
    text += count++ == 0 ? "\n" : ",\n";
    text += pad + (j.is_object() ? Json(key).dump() + ": " : "") +
            pretty(item, indent + 2, under(path, j.is_object() ? key : std::to_string(count)), commented);
  }
  return text + "\n" + std::string(size_t(indent), ' ') + (j.is_object() ? "}" : "]");
}

// ---- schema --------------------------------------------------------------------------------------------------------

Json describe(const Type& type) {
  switch (type.form) {
    case Form::flag:
      return {{"type", "boolean"}};
    case Form::whole:
      return {{"type", "integer"}};
    case Form::text:
      return {{"type", "string"}};
    case Form::quantity:
      return {{"type", {"number", "string"}}};
    case Form::direction:
      return {{"type", {"string", "array"}}};
    case Form::course:
      return {{"type", {"number", "string", "object"}}};
    case Form::optional:
      return describe(*type.item);
    case Form::list: {
      const Json item = describe(*type.item);
      return {{"anyOf", {item, Json{{"type", "array"}, {"items", item}}}}};
    }
    case Form::named:
      return {{"type", "object"}, {"additionalProperties", describe(*type.item)}};
    case Form::object:
      break;
  }
  Json properties = Json::object();
  for (const auto& f : type.fields) {
    auto& property = properties[f.key] = describe(*f.type);
    property["description"] = f.help + (f.kind == Kind::number ? "" : std::string(" [") + coreUnit(f.kind) + "]");
    if (!f.choices.empty()) property["enum"] = f.choices;
  }
  return {{"type", "object"}, {"properties", properties}, {"additionalProperties", false}};
}

/// Watches a text being read for keys that stand twice in one object: the first would silently be lost.
class Twice {
 public:
  bool operator()(Json::parse_event_t event, const Json& parsed) {
    using Event = Json::parse_event_t;
    if (event == Event::object_start || event == Event::array_start) open_.push_back({event == Event::array_start, {}, {}, 0});
    if (event == Event::object_end || event == Event::array_end) open_.pop_back();
    if (event == Event::key && found_.empty()) {
      auto& now = open_.back();
      now.key = parsed.get<std::string>();
      if (!now.keys.insert(now.key).second)
        for (const auto& level : open_)
          found_ += (found_.empty() ? "" : "/") + (level.array ? std::to_string(level.item + 1) : level.key);
    }
    const bool ended = event == Event::object_end || event == Event::array_end || event == Event::value;
    if (ended && !open_.empty() && open_.back().array) ++open_.back().item;
    return true;
  }
  const std::string& found() const { return found_; }  ///< path of the first, or empty

 private:
  struct Level {
    bool array;
    std::set<std::string> keys;
    std::string key;
    int item;
  };
  std::vector<Level> open_;
  std::string found_;
};

}  // namespace

/// What cannot be a model is told before anything works on it. Throws Error.
static void checkText(const std::string& text) {
  const auto line = [&](size_t at) {
    return "line " + std::to_string(1 + std::count(text.begin(), text.begin() + std::ptrdiff_t(at), '\n'));
  };
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    throw Error("this file is empty", "line 1", "Copy an example over it, or begin a model in the window.");
  if (const auto zero = text.find('\0'); zero != std::string::npos)
    throw Error("this is not a text: it holds a zero byte", line(zero), "Save it as plain text (UTF-8).");
  if (const auto broken = brokenUtf8(text); broken != std::string::npos)
    throw Error("a character here is not UTF-8; the file may be in an older encoding such as Latin-1", line(broken),
                "Save it as UTF-8.");
  constexpr int deepest = 60;  // of a model: 12
  int depth = 0;
  bool quoted = false;
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (quoted) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        quoted = false;
    } else if (c == '"') {
      quoted = true;
    } else if (c == '/' && i + 1 < text.size() && (text[i + 1] == '/' || text[i + 1] == '*')) {
      const auto end = text[i + 1] == '/' ? text.find('\n', i) : text.find("*/", i + 2);
      if (end == std::string::npos) return;
      i = end;
    } else if (c == '{' || c == '[') {
      if (++depth > deepest)
        throw Error("brackets stand more than " + std::to_string(deepest) + " deep in each other", line(i),
                    "Close some of them: no model needs so many.");
    } else if (c == '}' || c == ']') {
      --depth;
    }
  }
}

Document parse(const std::string& text) {
  if (text.find("ISO-10303-21") < 200)
    throw Error("this is STEP geometry, not a model", "line 1",
                "Name it in a model (*.anvil), in a part: \"solid\": {\"step\": {\"file\": \"shape.step\"}}.");
  checkText(text);
  Json j;
  try {
    Twice twice;
    j = Json::parse(
        text, [&](int, Json::parse_event_t event, Json& parsed) { return twice(event, parsed); }, true, true);
    if (!twice.found().empty()) {
      const int line = lineOf(text, twice.found());
      throw Error("'" + twice.found().substr(twice.found().rfind('/') + 1) + "' stands twice",
                  twice.found() + (line ? " (line " + std::to_string(line) + ")" : ""),
                  "Give one of them another name, or put both into one.");
    }
  } catch (const Json::parse_error& e) {
    const auto before = text.substr(0, std::min(text.size(), e.byte ? e.byte - 1 : 0));
    const auto line = 1 + std::count(before.begin(), before.end(), '\n');
    const bool cutShort = e.byte >= text.size();
    throw Error(cutShort ? "the file ends in the middle of the model; it may have been cut short" : "this is not valid JSON",
                "line " + std::to_string(line), "Check brackets, commas and quotes just before this place.");
  } catch (const Json::exception& e) {  // a number beyond all numbers
    const std::string words = e.what();
    const auto from = words.find('\''), to = words.rfind('\'');
    const auto number = from < to ? words.substr(from + 1, to - from - 1) : std::string();
    const auto at = number.empty() ? std::string::npos : text.find(number);
    throw Error(number.empty() ? "this cannot be read" : number + " is not a finite number",
                at == std::string::npos
                    ? "model"
                    : "line " + std::to_string(1 + std::count(text.begin(), text.begin() + std::ptrdiff_t(at), '\n')),
                "Give a number that is not that large.");
  }
  Document document;
  try {
    readObject(j, root(document), "");
    for (const auto& [name, entry] : document.parameters) checkParameterName(name, "parameters/" + brief(name));
  } catch (const Error& e) {
    const int line = lineOf(text, e.where());
    throw Error(e.wrong(), (e.where().empty() ? "model" : e.where()) + (line ? " (line " + std::to_string(line) + ")" : ""),
                e.remedy());
  }
  document.comments = commentsIn(text);
  if (document.anvil != 1)
    throw Error("this file has format version " + std::to_string(document.anvil), "anvil", "This program reads version 1.");
  return document;
}

Document load(const std::string& path) {
  const auto text = readWhole(path);
  try {
    Document d = parse(text);
    d.home.folder = std::filesystem::absolute(path).parent_path().string();
    return d;
  } catch (const Error& e) {
    throw Error(e.wrong(), path + ", " + e.where(), e.remedy());
  }
}

std::string print(const Document& document) {
  Json j = Json::object();
  j["anvil"] = document.anvil;
  const Json rest = write(root(document));
  for (const auto& [key, item] : rest.items()) j[key] = item;
  return withComments(pretty(j, 0, "", commentedPaths(document.comments)) + "\n", document.comments);
}

void save(const Document& document, const std::string& path) { writeWhole(path, print(document)); }

std::string schema() {
  Json j = {{"$schema", "https://json-schema.org/draft/2020-12/schema"}, {"title", "Unyielding Anvil model"}};
  j.update(describe(documentType()));
  return j.dump(1) + "\n";
}

}  // namespace anvil::model
