// SPDX-License-Identifier: Apache-2.0
/// What a source of the shelf is: its name, its values, its keys, who listens to it; and away with
/// it.
#pragma once

#include "app/slots/field_panel.h"

namespace snare::app {

class SourcePanel : public FieldPanel {
    Q_OBJECT

  public:
    /// Opens below `anchor` for the source of that name.
    static SourcePanel* open(QWidget* anchor, Document& document, const std::string& source);

  protected:
    QString title() const override;
    void fill(QVBoxLayout* column) override;

  private:
    SourcePanel(QWidget* anchor, Document& document, std::string source);

    const scene::Source* source() const;
    template <class Kind> const Kind* kind() const
    {
        const scene::Source* found = source();
        return found ? std::get_if<Kind>(&found->kind) : nullptr;
    }
    template <class Kind> void fillFields(QVBoxLayout* column, FieldSource fields);
    void fillTimer(QVBoxLayout* column);
    void fillCall(QVBoxLayout* column);
    void fillKeys(QVBoxLayout* column);
    void fillFoot(QVBoxLayout* column);
    void editCallValues(QWidget* anchor);
    void changeSource(const std::function<void(scene::Source&)>& change);
    void remove();

    std::string id_;
};

} // namespace snare::app
