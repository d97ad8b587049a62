// Sentences of the core, which name entries by the file's keys, in the words of the desk.
#pragma once
#include <QString>

namespace anvil::app {

/// "or let a contact look farther ("search")" is "or let a contact look farther (Looks for faces within)". `place`: what
/// the sentence is about ("contacts/press"), whose entries are looked at first.
QString inDeskWords(const QString& sentence, const QString& place);

}  // namespace anvil::app
