#include "app/session/background.h"

#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace pivrak {

void Background::stepBack() {
    // On Linux niceness is a thread's own, and nobody may take it back: threads of the pool keep it.
    constexpr int niceness = 10;
    thread_local const bool done =
        setpriority(PRIO_PROCESS, static_cast<id_t>(syscall(SYS_gettid)), niceness) == 0;
    (void)done;
}

}  // namespace pivrak
