// SPDX-License-Identifier: Apache-2.0
#include "app/ui/form_rows.h"

#include "app/ui/theme.h"

#include <QGridLayout>
#include <QLabel>

namespace snare::app {

QGridLayout* makeForm()
{
    auto* form = new QGridLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(7);
    form->setColumnStretch(2, 1);
    return form;
}

void addFormRow(QGridLayout* form, const QString& words, QWidget* field, const QString& about)
{
    const int row = form->rowCount();
    auto* label = new QLabel{words};
    label->setBuddy(field);
    field->setAccessibleName(words);
    field->setAccessibleDescription(about);
    form->addWidget(label, row, 0);
    form->addWidget(field, row, 1);
    auto* told = new QLabel{about};
    told->setFont(textFont(-0.5));
    told->setWordWrap(true);
    colourText(told, &Theme::inkSoft);
    form->addWidget(told, row, 2);
}

} // namespace snare::app
