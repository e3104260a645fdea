package dev.dusky.app.watch;

import com.code_intelligence.jazzer.junit.FuzzTest;
import java.util.Optional;

/** Any bytes are a notification, or are said not to be one. */
class NotificationsFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void notifications(byte[] bytes) {
    try {
      Notifications.read(bytes, Optional.of("yard"), Optional.of("in/a.csv"));
    } catch (IllegalArgumentException expected) {
      // that is the answer
    }
  }
}
