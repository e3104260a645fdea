package dev.dusky.app.alert;

import com.fasterxml.jackson.databind.ObjectMapper;
import dev.dusky.app.config.AlertSettings.Command;
import dev.dusky.core.alert.AlertMessage;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Runs a program that reads a JSON object per message, a line each, from its standard input. */
final class CommandSender implements Sender {

  private static final int PATIENCE_SECONDS = 30;
  private static final int MOST_SAID = 300;

  private static final Logger LOG = LoggerFactory.getLogger(CommandSender.class);

  private final Command target;
  private final Path folder;

  CommandSender(Command target, Path folder) {
    this.target = target;
    this.folder = folder;
  }

  @Override
  public int most() {
    return 100;
  }

  @Override
  public void send(List<AlertMessage> messages) throws IOException, InterruptedException {
    Path said = Files.createTempFile("dusky-alert", ".log");
    try {
      Process process =
          new ProcessBuilder(target.words())
              .directory(folder.toFile())
              .redirectErrorStream(true)
              .redirectOutput(said.toFile())
              .start();
      try (OutputStream in = process.getOutputStream()) {
        for (AlertMessage message : messages) {
          in.write(new ObjectMapper().writeValueAsBytes(MessageText.fields(message)));
          in.write('\n');
        }
      } catch (IOException e) {
        LOG.debug("{} did not read all of its input; how it ends decides", name(), e);
      }
      if (!process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
        process.destroyForcibly();
        throw new IOException("%s ran for more than %d s".formatted(name(), PATIENCE_SECONDS));
      }
      if (process.exitValue() != 0) {
        byte[] out = Files.readAllBytes(said);
        String text = new String(out, 0, Math.min(out.length, MOST_SAID), StandardCharsets.UTF_8);
        throw new IOException(
            "%s ended with %d: %s".formatted(name(), process.exitValue(), text.strip()));
      }
    } finally {
      Files.deleteIfExists(said);
    }
  }

  private String name() {
    return target.words().get(0);
  }
}
