// A page that scrolls where it is higher than its window.
#pragma once
#include <QScrollArea>
#include <QVBoxLayout>

namespace anvil::app {

/// Lays a scrolling body over all of a page; returns the body's layout.
inline QVBoxLayout* scrolledPage(QWidget* page) {
  page->setObjectName("page");
  auto* area = new QScrollArea(page);
  auto* body = new QWidget(area);
  body->setObjectName("page");
  area->setWidget(body), area->setWidgetResizable(true);
  auto* whole = new QVBoxLayout(page);
  whole->setContentsMargins(0, 0, 0, 0), whole->addWidget(area);
  return new QVBoxLayout(body);
}

}  // namespace anvil::app
