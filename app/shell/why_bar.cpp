// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/why_bar.h"

#include "app/widgets/empty_layout.h"

#include <QGridLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

namespace badger::app
{

SumLine::SumLine(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setMinimumHeight(qRound(46 * theme.scale()));
}

void SumLine::show(const Sum &sum)
{
    m_sum = sum;
    QStringList words = {sum.result};
    for (const auto &p : sum.parts)
        words << p.text << p.caption;
    setAccessibleName(words.join(' '));
    setMinimumHeight(qRound(46 * m_theme.scale()));
    update();
}

void SumLine::paintEvent(QPaintEvent *)
{
    QPainter p(this);
    const qreal middle = height() / 2.0;
    qreal x = 0;
    p.setFont(m_theme.text(Type::Title, true));
    p.setPen(m_theme.color(Tone::Result));
    const qreal resultWidth = p.fontMetrics().horizontalAdvance(m_sum.result);
    p.drawText(QRectF(x, 0, resultWidth + 4, height()), Qt::AlignVCenter, m_sum.result);
    x += resultWidth + m_theme.space(3);

    p.setFont(m_theme.text(Type::Small));
    const qreal asideWidth =
        m_sum.aside.isEmpty() ? 0 : p.fontMetrics().horizontalAdvance(m_sum.aside) + 12;
    const qreal right = width() - asideWidth;
    for (const auto &part : m_sum.parts) {
        p.setFont(m_theme.figures(Type::Body));
        const qreal textWidth = p.fontMetrics().horizontalAdvance(part.text);
        p.setFont(m_theme.text(Type::Small));
        const qreal captionWidth = p.fontMetrics().horizontalAdvance(part.caption);
        const qreal w = std::max(textWidth, captionWidth);
        if (x + w > right) { // what does not fit stands in the derivation
            p.setPen(m_theme.color(Tone::Ink2));
            p.drawText(QRectF(x, 0, right - x, height()), Qt::AlignVCenter, QStringLiteral("..."));
            break;
        }
        p.setFont(m_theme.figures(Type::Body));
        p.setPen(m_theme.color(Tone::Ink));
        p.drawText(QRectF(x, middle - 22 * m_theme.scale(), w + 2, 22 * m_theme.scale()),
                   Qt::AlignVCenter, part.text);
        p.setFont(m_theme.text(Type::Small));
        p.setPen(m_theme.color(Tone::Ink2));
        p.drawText(QRectF(x, middle, w + 2, 18 * m_theme.scale()), Qt::AlignVCenter, part.caption);
        x += w + m_theme.space(5);
    }
    p.setPen(m_theme.color(Tone::Ink2));
    p.drawText(QRectF(right, 0, asideWidth, height()), Qt::AlignVCenter | Qt::AlignRight,
               m_sum.aside);
}

WhyBar::WhyBar(const Theme &theme, QWidget *parent) : QWidget(parent), m_theme(theme)
{
    setObjectName("whyBar");
    setAttribute(Qt::WA_StyledBackground);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(theme.space(5), 1, theme.space(5), 2);
    layout->setSpacing(0);
    m_derivation = new QWidget;
    m_grid = new QGridLayout(m_derivation);
    m_grid->setContentsMargins(theme.space(2), theme.space(3), 0, theme.space(2));
    m_grid->setHorizontalSpacing(theme.space(6));
    m_grid->setVerticalSpacing(theme.space(2));
    m_derivation->hide();
    auto *row = new QHBoxLayout;
    m_toggle = new QPushButton(tr("&Why?"));
    m_toggle->setObjectName("why");
    m_toggle->setCheckable(true);
    m_toggle->setToolTip(tr("The whole derivation: F8"));
    m_toggle->setMinimumWidth(theme.space(28));
    connect(m_toggle, &QPushButton::clicked, this, &WhyBar::setOpen);
    m_line = new SumLine(theme);
    row->addWidget(m_toggle);
    row->addSpacing(theme.space(5));
    row->addWidget(m_line, 1);
    layout->addWidget(m_derivation);
    layout->addLayout(row);
}

void WhyBar::setOpen(bool open)
{
    m_open = open;
    m_toggle->setChecked(open);
    if (open)
        fillDerivation();
    m_derivation->setVisible(open && !m_sum.derivation.empty());
}

void WhyBar::show(const Sum &sum)
{
    m_sum = sum;
    m_line->show(sum);
    setVisible(!sum.result.isEmpty());
    setOpen(m_open);
}

void WhyBar::fillDerivation()
{
    emptyLayout(*m_grid);
    int row = 0;
    for (const auto &line : m_sum.derivation) {
        const std::array<QString, 4> texts = {line.name, line.value, line.how, line.from};
        for (int column = 0; column < 4; ++column) {
            auto *label = new QLabel(texts[static_cast<size_t>(column)]);
            label->setTextFormat(Qt::PlainText);
            label->setWordWrap(column == 3);
            if (column == 1 || column == 2)
                label->setProperty("figures", true);
            if (column == 1)
                label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
            if (column == 3)
                label->setProperty("small", true);
            m_grid->addWidget(label, row, column);
        }
        ++row;
    }
    m_grid->setColumnStretch(3, 1);
}

} // namespace badger::app
