// SPDX-License-Identifier: GPL-3.0-or-later
// A wire between a program and a server on this machine that can lose its far end in the middle of an answer.
#pragma once

#include <arpa/inet.h>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <array>
#include <atomic>
#include <thread>
#include <vector>

namespace eh::test {

class FaultyWire {
  public:
    explicit FaultyWire(int server_port) : server_port_(server_port), listener_(open_listener()) {
        thread_ = std::thread([this] { run(); });
    }
    ~FaultyWire() {
        ending_ = true;
        thread_.join();
        for (const Pair& pair : pairs_)
            close_both(pair);
        ::close(listener_);
    }
    FaultyWire(const FaultyWire&) = delete;
    FaultyWire& operator=(const FaultyWire&) = delete;

    [[nodiscard]] int port() const { return port_; }
    // What stands goes down once the server has sent this many bytes more; new connections are taken again.
    void cut_after(long bytes) { left_ = bytes; }
    void mend() { left_ = no_end; }

  private:
    struct Pair {
        int program = -1;
        int server = -1;
    };
    static constexpr long no_end = 1L << 60;

    int open_listener() {
        const int listener = ::socket(AF_INET, SOCK_STREAM, 0);
        sockaddr_in here = loopback(0);
        socklen_t size = sizeof here;
        ::bind(listener, reinterpret_cast<sockaddr*>(&here), size);
        ::listen(listener, 8);
        ::getsockname(listener, reinterpret_cast<sockaddr*>(&here), &size);
        port_ = ntohs(here.sin_port);
        return listener;
    }
    static sockaddr_in loopback(int port) {
        sockaddr_in address{};
        address.sin_family = AF_INET;
        address.sin_port = htons(static_cast<std::uint16_t>(port));
        address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        return address;
    }
    static void close_both(const Pair& pair) {
        ::close(pair.program);
        ::close(pair.server);
    }

    void run() {
        while (!ending_) {
            std::vector<pollfd> all{{listener_, POLLIN, 0}};
            for (const Pair& pair : pairs_) {
                all.push_back({pair.program, POLLIN, 0});
                all.push_back({pair.server, POLLIN, 0});
            }
            ::poll(all.data(), all.size(), 20);
            for (std::size_t i = pairs_.size(); i-- > 0;) {
                const bool said = all[1 + 2 * i].revents != 0, answered = all[2 + 2 * i].revents != 0;
                if ((said && !pass(pairs_[i].program, pairs_[i].server, false)) ||
                    (answered && !pass(pairs_[i].server, pairs_[i].program, true))) {
                    close_both(pairs_[i]);
                    pairs_.erase(pairs_.begin() + static_cast<long>(i));
                }
            }
            if (all[0].revents != 0)
                connect_through();
        }
    }

    void connect_through() {
        const Pair pair{::accept(listener_, nullptr, nullptr), ::socket(AF_INET, SOCK_STREAM, 0)};
        const sockaddr_in there = loopback(server_port_);
        if (::connect(pair.server, reinterpret_cast<const sockaddr*>(&there), sizeof there) == 0)
            pairs_.push_back(pair);
        else
            close_both(pair);
    }

    // False at the end of the connection.
    bool pass(int from, int to, bool counted) {
        std::array<char, 4096> some{};
        const ssize_t got = ::recv(from, some.data(), some.size(), 0);
        if (got <= 0)
            return false;
        const long allowed = counted ? std::min<long>(got, left_) : got;
        if (counted)
            left_ = left_ - allowed;
        return ::send(to, some.data(), static_cast<std::size_t>(allowed), MSG_NOSIGNAL) == allowed &&
               allowed == got;
    }

    int server_port_;
    int port_ = 0;
    int listener_;
    std::vector<Pair> pairs_;
    std::atomic<long> left_{no_end};
    std::atomic<bool> ending_{false};
    std::thread thread_;
};

}  // namespace eh::test
