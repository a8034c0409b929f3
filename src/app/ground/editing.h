// SPDX-License-Identifier: Apache-2.0
/// What can be done with the selection: delete, copy, arrange, stamp. Every command is one undo
/// step.
#pragma once

#include "app/ground/ground_view.h"
#include "app/model/arrange.h"
#include "app/model/document.h"
#include "app/model/selection.h"

#include <QObject>

namespace snare::app {

class Editing : public QObject {
    Q_OBJECT

  public:
    Editing(Document& document, Selection& selection, QObject* parent = nullptr);

    /// Where questions open and pasted pieces go. Changes when the views are built anew.
    void setGround(GroundView* ground) { ground_ = ground; }

    /// Deletes at once what nothing mentions; else says first what listens and acts there.
    void deletePieces(const std::vector<std::string>& pieces);
    void deleteSelection();
    void duplicateSelection();
    void selectAll();
    /// Chooses the next (1) or previous (-1) piece of the scene.
    void selectNext(int by);

    void copy();
    void cut();
    /// What is on the clipboard, at the pointer. Text that is no clip is said to be none.
    void paste(bool withSnares);

    void alignSelection(Side side);
    void distributeSelection(bool across);
    void restackSelection(int by, bool outmost);
    void turnSelection(double degrees);

    /// Makes a template of the selected piece and takes the stamp tool.
    void makeTemplate();
    /// Asks which template the selected pieces are to follow.
    void joinTemplate(QWidget* anchor);
    /// The selected plain pieces become parts of the selected laid one, and so of all of its
    /// assembly.
    void addToAssembly();
    /// Makes an assembly of the selected pieces, with the snares among them (A1).
    void makeAssembly();
    /// The assemblies that are selected, or of which a part is, become plain pieces.
    void dissolveAssembly();
    /// All laid ones of the assembly become like the selected one.
    void makeAssembliesAlike();
    /// The selected piece's own fields become those of its template; the others follow.
    void changeTemplateFromSelection();
    /// Makes one snare of the chosen one's for everything of a tag, group or template.
    void generaliseSnare(const std::string& snare, QWidget* anchor);
    /// Copies a snare to other pieces.
    void copySnareTo(const std::string& snare, QWidget* anchor);

  signals:
    void said(const QString& text);

  private:
    std::vector<std::string> chosenWholes() const;

    Document& document_;
    Selection& selection_;
    GroundView* ground_ = nullptr;
};

} // namespace snare::app
