// What the view offers to look at: the field and where in a sheet, the whole of a part of it, a section.
#include <QComboBox>
#include <QToolButton>
#include <algorithm>

#include "app/view/feature_tool.hpp"
#include "app/view/model_view.hpp"
#include "app/view/outline_tool.hpp"
#include "app/view/overlay.hpp"
#include "core/lower/sectors.hpp"
#include "core/mesh/symmetry.hpp"
#include "core/model/document.hpp"
#include "core/results/fields.hpp"

namespace anvil::app {

void ModelView::chooseField() {
  auto place = results::SheetPlace(sheetPlace_->currentData().toInt());
  const auto base = field_->currentText().toStdString();
  const auto isThere = [&](const results::FieldInfo& f) { return f.name == base + results::placeWords(place); };
  const auto list = results::fieldList(results_.header());
  if (std::none_of(list.begin(), list.end(), isThere)) place = results::SheetPlace::bothSides;
  results_.setField(QString::fromStdString(base + results::placeWords(place)));
}

/// The two boxes as the field on show has them; that of the place only for what differs through a sheet.
void ModelView::showField() {
  bool differs = false;
  if (results_.isOpen()) {
    const auto list = results::fieldList(results_.header());
    const auto name = results_.field().toStdString();
    const auto it = std::find_if(list.begin(), list.end(), [&](const auto& f) { return f.name == name; });
    if (it != list.end()) {
      const std::string base = results::withoutPlace(*it);
      field_->setCurrentText(QString::fromStdString(base));
      differs = std::any_of(list.begin(), list.end(), [&](const auto& f) {
        return f.place != results::SheetPlace::bothSides && results::withoutPlace(f) == base;
      });
      if (differs) sheetPlace_->setCurrentIndex(sheetPlace_->findData(int(it->place)));
    }
  }
  sheetPlace_->setVisible(differs && showsResult_);
}

void ModelView::showShapesOf(const QString& part) {
  outline_->showPart(part);
  features_->show(part, picked_.size() == 1 ? picked_.front() : QString());
}

void ModelView::refreshUnits() {
  section_->refresh(false);
  overlay_->update(), canvas_->update();
}

/// Mirrored and cut display, where the model allows them.
void ModelView::offerDisplays() {
  forgetPickables(), showField();
  pick_->setVisible(!showsResult_ && !scene_->header().mesh.faces.empty());
  planes_ = mesh::mirrorPlanes(document_.document(), scene_->header().mesh);
  sectors_ = analysis::sectorsOf(document_.document(), scene_->header().mesh);
  const bool part = !planes_.empty() || !sectors_.empty();
  mirrored_->setText(sectors_.empty() ? "Mirrored" : planes_.empty() ? "All sectors" : "Whole");
  mirrored_->setVisible(part), sectioned_->setVisible(scene_->solid());
  if (!part) mirrored_->setChecked(false);
  if (!scene_->solid()) sectioned_->setChecked(false);
}

/// Where the model's picture stands again to make the whole: beyond its symmetry planes, and round the axes of its sectors.
std::vector<Eigen::Affine3d> ModelView::furtherPictures() const {
  std::vector<Eigen::Affine3d> all{Eigen::Affine3d::Identity()};
  const auto times = [&](const Eigen::Affine3d& more, int count) {
    Eigen::Affine3d step = more;
    const auto own = all;
    for (int k = 1; k < count; ++k, step = more * step)
      for (const auto& picture : own) all.push_back(step * picture);
  };
  for (const auto& plane : planes_) {
    Eigen::Vector3d scale = Eigen::Vector3d::Ones();
    scale[plane.axis] = -1;
    times(Eigen::Translation3d(2 * plane.at * Eigen::Vector3d::Unit(plane.axis)) * Eigen::Scaling(scale), 2);
  }
  for (const auto& s : sectors_) times(Eigen::Translation3d(s.about) * s.turn * Eigen::Translation3d(-s.about), s.count);
  all.erase(all.begin());
  return all;
}

}  // namespace anvil::app
