// Feeds damaged model files to the reader: whatever comes, it reads or refuses with a sentence. What it reads, it writes and
// reads again as the same document. Built with ANVIL_FUZZ (Clang's libFuzzer): model-fuzz -max_total_time=600 CORPUS examples/*/
#include <cctype>
#include <cstdint>
#include <set>
#include <string>

#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

using namespace anvil;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  model::Document document;
  try {
    document = model::parse(std::string(reinterpret_cast<const char*>(data), size));
  } catch (const Error& e) {
    if (e.wrong().empty()) __builtin_trap();  // a refusal without words
    return 0;
  }
  auto again = model::parse(model::print(document));
  const auto texts = [](const model::Document& d) {  // a comment may move to the nearest place that can have it, but none is lost
    std::multiset<std::string> all;
    for (const auto& c : d.comments) {
      std::string words;
      for (char letter : c.text)
        if (!std::isspace(static_cast<unsigned char>(letter))) words += letter;
      all.insert(words);
    }
    return all;
  };
  if (texts(again) != texts(document)) __builtin_trap();
  again.comments = document.comments;
  if (!(again == document)) __builtin_trap();
  try {
    const model::Quantities quantities(document);
    for (const auto& [name, part] : document.parts)
      for (const auto& shape : part.shape)
        if (shape.rectangle) (void)quantities.list(shape.rectangle->size, Kind::length, "parts/" + name);
  } catch (const Error&) {
  }
  return 0;
}
