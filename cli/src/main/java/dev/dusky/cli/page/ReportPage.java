package dev.dusky.cli.page;

import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.Template;
import dev.dusky.app.config.Prices;
import dev.dusky.app.report.Report;
import dev.dusky.app.workspace.Version;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Writes a report as one page of HTML. The page has its style, its scripts and its figures in it
 * and fetches nothing; its content security policy admits exactly these scripts, by their digests.
 * All texts of the ledger are escaped by the template, or are in JSON.
 */
public final class ReportPage {

  private static final String CHARTS =
      "/META-INF/resources/webjars/chart.js/4.5.1/dist/chart.umd.min.js";

  private static final int LIVE_SECONDS = 60;

  private final Template template;
  private final String style;
  private final String charts;
  private final String script;

  /** A writer of pages. */
  public ReportPage() {
    style = resource("report.css");
    // The library names a map of its source, which a page that fetches nothing cannot use.
    charts = resource(CHARTS).replaceAll("//# sourceMappingURL=\\S+", "").strip();
    script = resource("report.js");
    template =
        Mustache.compiler()
            .defaultValue("")
            .emptyStringIsFalse(true)
            .compile(resource("report.html"));
  }

  /** A page that is served: where it is open, the next one is asked for each minute. */
  public static String live(Report report) {
    return new ReportPage().write(report, LIVE_SECONDS);
  }

  /** The page that is made once. */
  public String write(Report report) {
    return write(report, 0);
  }

  /**
   * The page.
   *
   * @param live after how many seconds an open page asks for the next one; 0 for never
   */
  public String write(Report report, int live) {
    PageFigures figures = new PageFigures(report);
    PageParts parts = new PageParts(report, figures);
    Map<String, Object> page = new LinkedHashMap<>();
    page.put("policy", policy());
    page.put("live", String.valueOf(live));
    page.put("version", Version.NUMBER);
    page.put("place", report.place());
    page.put("made", parts.minute(report.made()));
    page.put("first", parts.minute(report.since()).substring(0, 10));
    page.put("zone", report.zone().getId());
    page.put("headline", parts.headline());
    list(page, "needs", "anyNeeds", parts.needs());
    page.put("tiles", parts.tiles());
    list(page, "rejects", "anyRejects", parts.rejects());
    page.put("filesNote", parts.filesNote());
    page.put("files", parts.files());
    list(page, "merges", "anyMerges", parts.merges());
    list(page, "drifts", "anyDrifts", parts.drifts());
    list(page, "usage", "anyUsage", new PageUsage(report, figures).rows());
    page.put("currency", report.prices().map(Prices::currency).orElse("cost"));
    report
        .proof()
        .ifPresent(
            proof -> {
              Map<String, Object> part = new LinkedHashMap<>();
              part.put("at", parts.minute(proof.at()));
              part.put("rows", parts.proofs(proof));
              list(part, "sums", "anySums", parts.sums(proof));
              list(part, "histories", "anyHistories", PageHistories.rows(proof));
              page.put("proof", part);
            });
    page.put("style", style);
    page.put("charts", charts);
    page.put("script", script);
    page.put("figures", figures.json());
    return template.execute(page);
  }

  private static void list(
      Map<String, Object> page, String name, String any, java.util.List<?> rows) {
    page.put(name, rows);
    page.put(any, !rows.isEmpty());
  }

  /** What the page may do: its own style and scripts, and pictures that it draws. */
  private String policy() {
    return "default-src 'none'; style-src %s; script-src %s %s; img-src data:; base-uri 'none'; form-action 'none'"
        .formatted(digest(style), digest(charts), digest(script));
  }

  private static String digest(String content) {
    try {
      byte[] digest =
          MessageDigest.getInstance("SHA-256").digest(content.getBytes(StandardCharsets.UTF_8));
      return "'sha256-" + Base64.getEncoder().encodeToString(digest) + "'";
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  private static String resource(String name) {
    try (InputStream in = ReportPage.class.getResourceAsStream(name)) {
      if (in == null) {
        throw new IllegalStateException("the program lacks " + name);
      }
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
