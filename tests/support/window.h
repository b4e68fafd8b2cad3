#pragma once

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QSettings>
#include <QTest>
#include <QTimer>
#include <functional>

#include "app/shell/main_window.h"
#include "demo/drive_station.h"

namespace pivrak::test {

/// A real window and the hands of a person: mouse and keys only, by the names of the widgets.
class Hands {
public:
    Look& look;
    Session session;
    QString open_answer, save_answer;
    Questions::Unsaved unsaved_answer = Questions::Unsaved::Discard;
    Questions::LeftWork left_answer = Questions::LeftWork::Later;
    QStringList left_words;  ///< as asked about left work
    bool removal_answer = true;
    QStringList losses;  ///< as told before a removal
    MainWindow window;
    QStringList refusals, told;

    explicit Hands(Look& shared_look, const QString& examples = {})
        : look(shared_look),
          window(session, shared_look,
                 Questions{
                     [this](QWidget*, const QString&, const QString&) { return open_answer; },
                     [this](QWidget*, const QString&, const QString&, const QString&) { return save_answer; },
                     [this](QWidget*) { return unsaved_answer; },
                     [this](QWidget*, const QString& words) {
                         left_words << words;
                         return left_answer;
                     },
                     [this](QWidget*, const QStringList& words) {
                         losses = words;
                         return removal_answer;
                     }},
                 examples) {
        QObject::connect(&session, &Session::told, &window,
                         [this](const QString& text, bool refused) { (refused ? refusals : told) << text; });
        window.show();
        window.activateWindow();
        (void)QTest::qWaitForWindowActive(&window);
        settle();
    }

    ~Hands() { window.autosave().finish(); }

    void settle() {
        session.settle();
        while (window.prints().isBusy()) QTest::qWait(5);
        QTest::qWait(30);
    }

    /// The visible widget of that name.
    template <class T = QWidget>
    T* find(const char* name) {
        for (T* widget : window.findChildren<T*>(QLatin1String(name)))
            if (widget->isVisible()) return widget;
        return nullptr;
    }

    void click(const char* name) {
        QWidget* widget = find(name);
        ASSERT_NE(widget, nullptr) << name << " is not there";
        ASSERT_TRUE(widget->isEnabled()) << name << " is grey";
        // A box to tick takes clicks on itself and its words only, however wide it is.
        const bool box = qobject_cast<QCheckBox*>(widget) != nullptr;
        QTest::mouseClick(widget, Qt::LeftButton, {}, box ? QPoint(8, widget->height() / 2) : QPoint());
        settle();
    }

    void type(const char* name, const QString& text, bool enter = true) {
        auto* edit = find<QLineEdit>(name);
        ASSERT_NE(edit, nullptr) << name << " is not there";
        ASSERT_TRUE(edit->isEnabled()) << name << " is grey";
        QTest::mouseClick(edit, Qt::LeftButton);
        QTest::keyClick(edit, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(edit, text);
        if (text.isEmpty()) QTest::keyClick(edit, Qt::Key_Delete);
        if (enter) QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }

    /// Steps through a combo box with the keyboard until it shows a value.
    void choose(const char* name, const QVariant& value) {
        auto* combo = find<QComboBox>(name);
        ASSERT_NE(combo, nullptr) << name;
        ASSERT_TRUE(combo->isEnabled()) << name << " is grey";
        combo->setFocus();
        const int wanted = combo->findData(value);
        ASSERT_GE(wanted, 0) << value.toString().toStdString();
        for (int i = 0; combo->currentIndex() != wanted && i < combo->count(); ++i)
            QTest::keyClick(combo, combo->currentIndex() < wanted ? Qt::Key_Down : Qt::Key_Up);
        settle();
    }

    /// A key on the window, with the focus in the view, where no field takes it.
    void key(int key, Qt::KeyboardModifiers modifiers = {}) {
        window.view().setFocus();
        QTest::keyClick(&window.view(), static_cast<Qt::Key>(key), modifiers);
        settle();
    }

    void clickRow(PartId part, Qt::KeyboardModifiers modifiers = {}) {
        const QPoint row = window.parts().rowOf(part);
        QTest::mouseClick(window.parts().tree().viewport(), Qt::LeftButton, modifiers, row);
        settle();
    }

    /// A click into a field and Return, with nothing typed.
    void enterUntyped(const char* field) {
        auto* edit = find<QLineEdit>(field);
        ASSERT_NE(edit, nullptr) << field;
        QTest::mouseClick(edit, Qt::LeftButton);
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }

    /// Picks these parts and no others.
    void pickRows(const std::vector<PartId>& parts) {
        Qt::KeyboardModifiers modifiers;
        for (const PartId id : parts) {
            clickRow(id, modifiers);
            modifiers = Qt::ControlModifier;
        }
        ASSERT_EQ(session.selection().size(), parts.size());
    }

    void pickNamed(const std::vector<std::string>& names) {
        std::vector<PartId> parts;
        for (const std::string& name : names) parts.push_back(named(name));
        pickRows(parts);
    }

    /// Lets go of what is picked: a click on the empty ground, up in a corner of the view.
    void pickNothing() {
        Viewport& view = window.view();
        QTest::mouseClick(&view, Qt::LeftButton, {}, QPoint(view.width() - 8, 8));
        settle();
        ASSERT_TRUE(session.selection().empty());
    }

    /// Picks a part, goes on to the gauge of a channel, and types a value at it.
    void typeAtGauge(ChannelRef channel, const QString& value) {
        pickRows({channel.part()});
        const auto shown = [&] {
            const auto gauge = window.view().gauges().active();
            return gauge ? gauge->channel : ChannelRef{};
        };
        const int next = channel.kind == ChannelKind::Size ? Qt::Key_Z
                         : is_turn(channel.kind)           ? Qt::Key_T
                                                           : Qt::Key_M;
        for (int i = 0; i < 6 && shown() != channel; ++i) key(next);
        ASSERT_EQ(shown(), channel);
        type("gaugeEntry", value);
    }

    /// Picks a point of the path in hand where it is drawn.
    void clickPathPoint(std::size_t number) {
        const Path& path = *session.document().paths.find(session.pathTool().path);
        const Frame world = path.carrier ? session.worldFromPart(path.carrier) : Frame{};
        const Vec3 seen = window.view().camera().project(world.point(path.points[number].place));
        QTest::mouseClick(&window.view(), Qt::LeftButton, {}, pixel(seen));
        settle();
        ASSERT_EQ(session.pathTool().points, std::vector{static_cast<int>(number)});
    }

    /// Drags a row of the tree onto another, or onto the empty space below all rows.
    void dragRow(PartId from, PartId onto) {
        QWidget* rows = window.parts().tree().viewport();
        const QPoint start = window.parts().rowOf(from),
                     end = onto ? window.parts().rowOf(onto) : QPoint(rows->width() / 2, rows->height() - 4);
        // The drag runs in a loop of its own from the step that begins it: each step has a clock of its own.
        bool dropped = false;
        for (int step = 1; step <= 5; ++step)
            QTimer::singleShot(40 * step, rows,
                               [=] { QTest::mouseMove(rows, start + (end - start) * step / 5); });
        QTimer::singleShot(240, rows, [&] {
            QTest::mouseRelease(rows, Qt::LeftButton, {}, end);
            dropped = true;
        });
        QTest::mousePress(rows, Qt::LeftButton, {}, start);
        QTRY_VERIFY_WITH_TIMEOUT(dropped, 4000);
        QTest::qWait(50);
        settle();
    }

    /// Of a place as the camera shows it; one beside the eye is shown endlessly far off.
    static QPoint pixel(const Vec3& seen) {
        constexpr double far_off = 1e6;
        return {static_cast<int>(std::clamp(seen.x(), -far_off, far_off)),
                static_cast<int>(std::clamp(seen.y(), -far_off, far_off))};
    }

    /// A pixel that shows a part and nothing before it.
    std::optional<QPoint> visiblePixel(PartId id) {
        Viewport& view = window.view();
        const Part* part = session.shownDocument().parts.find(id);
        const Shape* shape = part ? session.shownDocument().shapes.find(part->shape) : nullptr;
        if (!shape) return std::nullopt;
        const Frame world = session.worldFromPart(id) * part->part_from_shape;
        for (std::size_t t = 0; t < shape->mesh->triangle_count();
             t += 1 + shape->mesh->triangle_count() / 500) {
            const Vec3 middle =
                (shape->mesh->corner(t, 0) + shape->mesh->corner(t, 1) + shape->mesh->corner(t, 2)) / 3.0;
            const Vec3 seen = view.camera().project(world.point(middle));
            if (isClear(pixel(seen)) && view.partAt(pixel(seen)) == id) return pixel(seen);
        }
        return std::nullopt;
    }

    /// Whether a click there reaches the view itself.
    bool isClear(const QPoint& pixel) {
        Viewport& view = window.view();
        const QWidget* above = view.childAt(pixel);
        return view.rect().contains(pixel) &&
               (!above || above->testAttribute(Qt::WA_TransparentForMouseEvents));
    }

    /// A pixel beside a round rim of a part where a picked place snaps to its centre.
    std::optional<QPoint> rimPixel(PartId id) {
        Viewport& view = window.view();
        const Part& part = *session.document().parts.find(id);
        const Mesh& mesh = *session.document().shapes.find(part.shape)->mesh;
        const Frame world = session.worldFromPart(id) * part.part_from_shape;
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            for (int k = 0; k < 3; ++k) {
                // A little inside the middle of each edge.
                const Vec3 inside = 0.49 * mesh.corner(t, k) + 0.49 * mesh.corner(t, (k + 1) % 3) +
                                    0.02 * mesh.corner(t, (k + 2) % 3);
                const Vec3 seen = view.camera().project(world.point(inside));
                if (!isClear(pixel(seen))) continue;
                const auto place = view.picker().place(view.camera(), pixel(seen));
                if (place && place->part == id && place->kind == PickedPlace::Kind::RimCentre)
                    return pixel(seen);
            }
        return std::nullopt;
    }

    void clickInView(PartId part, Qt::KeyboardModifiers modifiers = {}) {
        const auto pixel = visiblePixel(part);
        ASSERT_TRUE(pixel.has_value()) << "not to be seen";
        QTest::mouseClick(&window.view(), Qt::LeftButton, modifiers, *pixel);
        settle();
    }

    void drag(QWidget* widget, QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = {},
              Qt::MouseButton button = Qt::LeftButton, const std::function<void()>& before_release = {}) {
        QTest::mousePress(widget, button, modifiers, from);
        for (int i = 1; i <= 8; ++i) {
            const QPoint at = from + (to - from) * i / 8;
            QMouseEvent move(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, button, modifiers);
            QApplication::sendEvent(widget, &move);
        }
        if (before_release) before_release();
        QTest::mouseRelease(widget, button, modifiers, to);
        settle();
    }

    PartId named(const std::string& name) {
        const auto found = find_part(session.document(), name);
        EXPECT_TRUE(found.ok()) << name;
        return found ? *found : PartId{};
    }

    QString text(const char* label) {
        const QLabel* found = find<QLabel>(label);
        return found ? found->text() : QStringLiteral("(no such label)");
    }
};

/// The name a component of the raw station gets when its lump breaks into pieces.
inline std::string piece_name(const std::string& component) {
    std::map<std::string, int> total, number;
    const auto components = demo::drive_station();
    for (const auto& c : components) ++total[c.lump];
    for (const auto& c : components) {
        ++number[c.lump];
        if (c.name == component)
            return fmt::format("{} {:0{}}", c.lump, number[c.lump], std::to_string(total[c.lump]).size());
    }
    return "";
}

}  // namespace pivrak::test
