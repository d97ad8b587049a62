// Sentences of the core, which name entries by the file's keys, in the words of the desk.
#pragma once
#include <QString>

namespace anvil::app {

/// "or let a contact look farther ("search")" is "or let a contact look farther (Looks for faces within)". `kind`: of the thing
/// that the sentence is about ("contacts"), whose entries are looked at first.
QString inDeskWords(const QString& sentence, const QString& kind);

}  // namespace anvil::app
