package dev.dusky.cli.command;

import dev.dusky.cli.render.Screen;
import dev.dusky.cli.render.Style;
import dev.dusky.cli.render.Terminal;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** The base of all commands: common options, and how failures end the program. */
@Command(synopsisHeading = "Usage: ", optionListHeading = "%nOptions:%n", sortOptions = false)
public abstract class DuskyCommand implements Callable<Integer> {

  private static final Path CONFIG = Path.of("dusky.yaml");
  private static final Path HERE = Path.of("");

  @Option(
      names = "--config",
      paramLabel = "FILE",
      description = "The configuration; default: dusky.yaml in the current directory.",
      order = 90)
  Path config = CONFIG;

  @Option(
      names = "--directory",
      paramLabel = "DIR",
      description = "Work in this directory instead of the current one.",
      order = 91)
  Path directory = HERE;

  @Option(names = "--json", description = "Print one JSON object per line.", order = 91)
  boolean json;

  @Option(names = "--no-color", description = "Print without colours.", order = 92)
  boolean noColor;

  @Option(names = "--debug", description = "Show stack traces of failures.", order = 93)
  boolean debug;

  @Option(
      names = {"-h", "--help"},
      usageHelp = true,
      description = "Show this help.",
      order = 94)
  boolean help;

  @Spec CommandSpec spec;

  /** Options before the name of a subcommand apply to it too. */
  private void inherit() {
    for (CommandSpec up = spec.parent(); up != null; up = up.parent()) {
      if (up.userObject() instanceof DuskyCommand above) {
        config = config.equals(CONFIG) ? above.config : config;
        directory = directory.equals(HERE) ? above.directory : directory;
        json |= above.json;
        noColor |= above.noColor;
        debug |= above.debug;
      }
    }
  }

  /** The configuration file. */
  final Path configFile() {
    return directory.resolve(config);
  }

  /** A path from the command line, as seen from the directory to work in. */
  final Path local(Path path) {
    return directory.resolve(path);
  }

  /** Does the command's work and gives the exit code. */
  abstract int run(Screen screen) throws Exception;

  @Override
  public final Integer call() throws Exception {
    inherit();
    Terminal terminal = Terminal.detect();
    boolean colour =
        !noColor
            && !json
            && terminal.out()
            && System.getenv("NO_COLOR") == null
            && !"dumb".equals(System.getenv("TERM"));
    try {
      return run(new Screen(System.out, System.err, json, new Style(colour), terminal));
    } catch (Error e) { // out of memory, a missing class: reported like any other failure
      throw new ExecutionException(e);
    }
  }
}
