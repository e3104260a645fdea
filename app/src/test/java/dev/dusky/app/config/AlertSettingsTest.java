package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.app.config.AlertSettings.Command;
import dev.dusky.app.config.AlertSettings.Mail;
import dev.dusky.app.config.AlertSettings.Quiet;
import dev.dusky.app.config.AlertSettings.Rule;
import dev.dusky.app.config.AlertSettings.Webhook;
import dev.dusky.core.alert.AlertKind;
import dev.dusky.core.failure.Failure;
import java.math.BigDecimal;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Who is told of what, as the configuration says it. */
class AlertSettingsTest {

  @TempDir Path folder;

  private AlertSettings alerts(String lines) throws Exception {
    Path file = folder.resolve("dusky.yaml");
    Files.writeString(
        file,
        """
        warehouse: jdbc:h2:file:./warehouse
        depots: { yard: "file:./intake" }
        feeds:
          farms: { depot: yard, files: "*.csv", layout: delimited, into: a.b, columns: { no: bigint } }
        alerts:
        """
            + lines.indent(2));
    return Configuration.read(file).alerts().orElseThrow();
  }

  @Test
  void everythingCanBeSaid() throws Exception {
    AlertSettings alerts =
        alerts(
            """
            to:
              duty: { webhook: "https://hooks.wrenfold.example/dusky" }
              mail: { mail: [ada@wrenfold.example], from: dusky@wrenfold.example, server: "smtp://mail.wrenfold.example:587" }
              page: { command: [./page, --now] }
            when:
              wrong: { is: [books, failing], to: [duty, mail] }
              late: { is: missing-files, about: farms, to: page }
            rejects: 100
            reject-share: 0.5%
            reject-age: 3 d
            quiet: { from: "22:00", until: "06:00", zone: Europe/Vienna }
            group: 5 min
            """);
    assertEquals(
        new Webhook(URI.create("https://hooks.wrenfold.example/dusky"), Optional.empty()),
        alerts.targets().get("duty"));
    assertEquals(new Command(List.of("./page", "--now")), alerts.targets().get("page"));
    assertEquals(List.of("ada@wrenfold.example"), ((Mail) alerts.targets().get("mail")).to());
    assertEquals(
        List.of(
            new Rule(
                EnumSet.of(AlertKind.BOOKS, AlertKind.FAILING), Set.of(), List.of("duty", "mail")),
            new Rule(EnumSet.of(AlertKind.MISSING_FILES), Set.of("farms"), List.of("page"))),
        alerts.rules());
    assertEquals(100, alerts.rejects());
    assertEquals(Optional.of(new BigDecimal("0.5")), alerts.rejectShare());
    assertEquals(Duration.ofDays(3), alerts.rejectAge());
    assertEquals(Duration.ofMinutes(5), alerts.group());
  }

  @Test
  void withoutRulesEverythingGoesToAllTargets() throws Exception {
    AlertSettings alerts = alerts("to: { page: { command: ./page } }");
    assertEquals(
        List.of(new Rule(EnumSet.allOf(AlertKind.class), Set.of(), List.of("page"))),
        alerts.rules());
    assertEquals(0, alerts.rejects());
  }

  @Test
  void quietHoursMayGoPastMidnight() {
    ZoneId vienna = ZoneId.of("Europe/Vienna");
    Quiet night = new Quiet(LocalTime.of(22, 0), LocalTime.of(6, 0), vienna);
    Quiet noon = new Quiet(LocalTime.of(12, 0), LocalTime.of(13, 30), vienna);
    record Case(Quiet quiet, String at, String after) {}
    for (Case c :
        List.of(
            new Case(night, "2026-03-02T20:59:59Z", "2026-03-02T20:59:59Z"),
            new Case(night, "2026-03-02T21:00:00Z", "2026-03-03T05:00:00Z"),
            new Case(night, "2026-03-03T04:59:59Z", "2026-03-03T05:00:00Z"),
            new Case(night, "2026-03-03T05:00:00Z", "2026-03-03T05:00:00Z"),
            new Case(night, "2026-03-28T22:00:00Z", "2026-03-29T04:00:00Z"), // the clock is moved
            new Case(noon, "2026-03-02T11:00:00Z", "2026-03-02T12:30:00Z"),
            new Case(noon, "2026-03-02T12:30:00Z", "2026-03-02T12:30:00Z"))) {
      assertEquals(Instant.parse(c.after()), c.quiet().after(Instant.parse(c.at())), c.toString());
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '~',
      quoteCharacter = '`',
      value = {
        "rejects: 1 ~ alerts need a target under to",
        "to: { a: { url: x } } ~ a target is a webhook, mail or a command",
        "to: { a: { webhook: ftp://x } } ~ webhook cannot be 'ftp://x'",
        "to: { a: { webhook: 'https://u:p@h/' } } ~ do not belong in the address",
        "to: { a: { mail: x@y.example } } ~ needs the key from",
        "to: { a: { command: x } }\\nwhen: { r: { is: late } } ~ there is no alert 'late'",
        "to: { a: { command: x } }\\nwhen: { r: { about: farm } } ~ the nearest is 'farms'",
        "to: { a: { command: x } }\\nwhen: { r: { to: b } } ~ there is no target 'b'",
        "to: { a: { command: x } }\\nreject-share: few ~ reject-share cannot be 'few'",
        "to: { a: { command: x } }\\nquiet: { from: noon, until: '13:00' } ~ from cannot be 'noon'",
        "to: { a: { command: x } }\\nquit: 1 ~ has no key 'quit'",
      })
  void whatIsWrongIsNamed(String lines, String message) {
    Failure failure = assertThrows(Failure.class, () -> alerts(lines.replace("\\n", "\n")));
    assertTrue(failure.getMessage().contains(message), failure.getMessage());
  }
}
