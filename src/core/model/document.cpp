// What is long to compile of the document's types is compiled here, once.
#include "core/model/document.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/features.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/regions.hpp"

namespace anvil::model {

Part::Part() = default;
Part::~Part() = default;
Part::Part(const Part&) = default;
Part::Part(Part&&) noexcept = default;
Part& Part::operator=(const Part&) = default;
Part& Part::operator=(Part&&) noexcept = default;
bool Part::operator==(const Part&) const = default;

Document::Document() = default;
Document::~Document() = default;
Document::Document(const Document&) = default;
Document::Document(Document&&) noexcept = default;
Document& Document::operator=(const Document&) = default;
Document& Document::operator=(Document&&) noexcept = default;
bool Document::operator==(const Document&) const = default;

}  // namespace anvil::model
