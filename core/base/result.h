#pragma once

#include <string>
#include <utility>
#include <variant>

namespace pivrak {

/// Why something was refused. `message` is a whole sentence for a person and names the thing and its
/// numbers; `code` is stable and meant for programs; `subject` is the part, file or argument concerned.
struct Error {
    std::string code;
    std::string message;
    std::string subject;
    bool operator==(const Error&) const = default;
};

/// A value or the reason there is none. Used at every border of core; core throws nothing on purpose.
template <class T>
class [[nodiscard]] Result {
public:
    Result(T value) : state_(std::move(value)) {}
    Result(Error error) : state_(std::move(error)) {}

    bool ok() const { return std::holds_alternative<T>(state_); }
    explicit operator bool() const { return ok(); }

    const T& value() const& { return std::get<T>(state_); }
    T& value() & { return std::get<T>(state_); }
    T&& value() && { return std::get<T>(std::move(state_)); }
    const T& operator*() const& { return value(); }
    T& operator*() & { return value(); }
    const T* operator->() const { return &value(); }
    T* operator->() { return &value(); }

    const Error& error() const { return std::get<Error>(state_); }

private:
    std::variant<T, Error> state_;
};

/// Success without a value, or the reason for failure.
template <>
class [[nodiscard]] Result<void> {
public:
    Result() = default;
    Result(Error error) : error_(std::move(error)), failed_(true) {}

    bool ok() const { return !failed_; }
    explicit operator bool() const { return ok(); }
    const Error& error() const { return error_; }

private:
    Error error_;
    bool failed_ = false;
};

}  // namespace pivrak

/// Binds `name` to the value of `expression`, or returns its error from the enclosing function.
#define PIVRAK_TRY(name, expression)                  \
    auto name##_result = (expression);                \
    if (!name##_result) return name##_result.error(); \
    auto& name = *name##_result

/// Returns the error of a `Result<void>` expression from the enclosing function, if it has one.
#define PIVRAK_CHECK(expression) \
    if (auto checked = (expression); !checked) return checked.error()
