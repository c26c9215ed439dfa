// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rework/heat_calibration.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/base/text.h"
#include "core/rework/heat_course.h"

namespace eh {
namespace {

constexpr double prior_spread = 0.4;
constexpr double time_spread = 0.2;
constexpr double longest_s = 3600.0;
constexpr double shortest_log_s = 1.0;
constexpr double longest_log_s = 1800.0;
constexpr int most_steps = 40;
constexpr double difference = 1e-4;

HeatSetup with(HeatSetup setup, const Eigen::Vector2d& factors) {
    setup.calibration.air = std::exp(factors[0]);
    setup.calibration.sink = std::exp(factors[1]);
    return setup;
}

// Residuals of logs and prior, each in its standard deviations.
Eigen::VectorXd residuals(const std::vector<HeatLog>& logs, const Eigen::Vector2d& factors) {
    Eigen::VectorXd r(static_cast<Eigen::Index>(logs.size()) + 2);
    for (std::size_t i = 0; i < logs.size(); ++i)
        r[static_cast<Eigen::Index>(i)] =
            std::log(moving_s(with(logs[i].setup, factors)) / logs[i].moved_after_s) / time_spread;
    r.tail(2) = factors / prior_spread;
    return r;
}

Eigen::MatrixXd jacobian(const std::vector<HeatLog>& logs, const Eigen::Vector2d& factors) {
    Eigen::MatrixXd j(static_cast<Eigen::Index>(logs.size()) + 2, 2);
    for (Eigen::Index k = 0; k < 2; ++k) {
        Eigen::Vector2d step = Eigen::Vector2d::Zero();
        step[k] = difference;
        j.col(k) = (residuals(logs, factors + step) - residuals(logs, factors - step)) / (2.0 * difference);
    }
    return j;
}

}  // namespace

double moving_s(const HeatSetup& setup) {
    const HeatCourse course(setup, longest_s);
    if (const auto reached = course.reaches(HeatLump::joint, setup.liquidus_c, longest_s))
        return std::max(0.1, *reached);
    const double start = course.celsius(HeatLump::joint, 0.0);
    const double rise = std::max(1e-3, course.celsius(HeatLump::joint, longest_s) - start);
    return longest_s * std::max(1.0, (setup.liquidus_c - start) / rise);
}

Result<HeatCalibration> calibrate_heat(const std::vector<HeatLog>& logs) {
    for (std::size_t i = 0; i < logs.size(); ++i) {
        const std::string place = "log " + integer_text(i + 1);
        if (auto checked = check_heat_setup(logs[i].setup); !checked)
            return refused(checked.error().text(), place);
        if (!(logs[i].moved_after_s >= shortest_log_s && logs[i].moved_after_s <= longest_log_s))
            return refused("a part moves after 1 to 1800 s of air; correct the time", place);
    }
    Eigen::Vector2d factors = Eigen::Vector2d::Zero();
    double damping = 1e-3;
    for (int step = 0; step < most_steps && !logs.empty(); ++step) {
        const Eigen::VectorXd r = residuals(logs, factors);
        const Eigen::MatrixXd j = jacobian(logs, factors);
        const Eigen::Matrix2d normal = j.transpose() * j;
        const Eigen::Matrix2d damped = normal + damping * Eigen::Matrix2d(normal.diagonal().asDiagonal());
        const Eigen::Vector2d move = damped.ldlt().solve(-j.transpose() * r);
        if (residuals(logs, factors + move).squaredNorm() < r.squaredNorm()) {
            factors += move;
            damping = std::max(1e-9, damping / 3.0);
            if (move.norm() < 1e-7)
                break;
        } else {
            damping *= 5.0;
        }
    }
    const Eigen::MatrixXd j = jacobian(logs, factors);
    const Eigen::Matrix2d spread = (j.transpose() * j).inverse();
    HeatCalibration calibration;
    calibration.air = std::exp(factors[0]);
    calibration.sink = std::exp(factors[1]);
    calibration.air_spread = std::sqrt(spread(0, 0));
    calibration.sink_spread = std::sqrt(spread(1, 1));
    calibration.logs = static_cast<int>(logs.size());
    return calibration;
}

}  // namespace eh
