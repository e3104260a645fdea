package dev.dusky.app.workspace;

import dev.dusky.app.config.Configuration;
import java.nio.file.Path;

/** The workspace on a machine of the engine; its depots stay open for the orders that follow. */
public final class EngineWorkspace {

  private static String configured = "";
  private static Workspace workspace;

  private EngineWorkspace() {}

  /**
   * The workspace of a configuration.
   *
   * @param file its path where the order comes from
   * @param text its text
   */
  public static synchronized Workspace of(String file, String text) {
    String wanted = file + "\n" + text;
    if (workspace == null || !configured.equals(wanted)) {
      if (workspace != null) {
        workspace.close();
      }
      workspace = new Workspace(Configuration.read(Path.of(file), text));
      configured = wanted;
    }
    return workspace;
  }
}
