package dev.dusky.app.alert;

import dev.dusky.core.alert.AlertMessage;
import java.io.IOException;
import java.util.List;

/** Sends messages to one target. */
interface Sender {

  /** How many messages it sends at a time. */
  int most();

  /**
   * Sends messages, all or none of them.
   *
   * @throws IOException that says why the target did not take them
   */
  void send(List<AlertMessage> messages) throws IOException, InterruptedException;
}
