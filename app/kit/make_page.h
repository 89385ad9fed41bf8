// SPDX-License-Identifier: GPL-3.0-or-later
// What must be cut, drilled, fitted, and what has to be looked at before? The template at full
// size, the steps with their gates, the list of fasteners.
#pragma once

#include "app/shell/station_page.h"
#include "app/theme/theme.h"
#include "core/mechanics/build.h"
#include "core/mechanics/template.h"

#include <QWidget>

class QLabel;
class QSvgRenderer;
class QVBoxLayout;

namespace badger::app
{

/// The template as it will come out of the printer, fitted to the page.
class TemplateView final : public QWidget
{
    Q_OBJECT
public:
    explicit TemplateView(const Theme &theme, QWidget *parent = nullptr);
    void show(const QByteArray &svg, mechanics::Page page);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    const Theme &m_theme;
    QSvgRenderer *m_renderer;
    mechanics::Page m_page;
};

class MakePage final : public StationPage
{
    Q_OBJECT
public:
    MakePage(Session &session, const Theme &theme, QWidget *parent = nullptr);
    void refresh() override;
    void reveal(const QString &step);

    /// The template at full size. A failure says what could not be written.
    Result<void> saveSvg(const QString &path) const;
    Result<void> savePdf(const QString &path) const;
    void askAndSave(bool pdf);

private:
    QWidget *tickRow(const QString &text, const std::string &key, bool ticked);
    void addStep(const mechanics::BuildStep &step);
    void addSupplies(const std::vector<mechanics::Supply> &supplies);
    void tick(const std::string &key, bool on);
    QString title() const;

    Session &m_session;
    const Theme &m_theme;
    TemplateView *m_view;
    QLabel *m_cuts;
    QVBoxLayout *m_steps;
};

} // namespace badger::app
