// Places of the document in words, for people who do not read its file.
#pragma once
#include <string>

namespace anvil {
class Error;
}

namespace anvil::model {

/// One thing of a kind, by the document's key: "parts" is "part", "watch" "watched point"; empty for other keys.
std::string kindInWords(const std::string& kind);

/// "parts/plate/solid/2/radius (line 7)" is "part 'plate', solid 2, radius"; what holds no thing ("steps") is itself.
std::string placeInWords(const std::string& path);

/// An error's whole sentence with its place in such words, beginning with a capital.
std::string inWords(const Error& error);

}  // namespace anvil::model
