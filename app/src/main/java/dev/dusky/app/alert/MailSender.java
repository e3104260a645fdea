package dev.dusky.app.alert;

import dev.dusky.app.config.AlertSettings.Mail;
import dev.dusky.core.alert.AlertMessage;
import jakarta.mail.Authenticator;
import jakarta.mail.Message.RecipientType;
import jakarta.mail.MessagingException;
import jakarta.mail.PasswordAuthentication;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Date;
import java.util.List;
import java.util.Properties;

/** Sends messages as one mail in plain text. */
final class MailSender implements Sender {

  private static final String PATIENCE_MILLIS = "15000";
  private static final int SUBMISSION = 587;
  private static final int SUBMISSION_TLS = 465;
  private static final int MOST_SUBJECT = 150;

  private final Mail target;

  MailSender(Mail target) {
    this.target = target;
  }

  @Override
  public int most() {
    return 100;
  }

  @Override
  public void send(List<AlertMessage> messages) throws IOException {
    try {
      MimeMessage mail = new Identified(session(), messages.get(0).identity());
      mail.setFrom(new InternetAddress(target.from()));
      for (String to : target.to()) {
        mail.addRecipient(RecipientType.TO, new InternetAddress(to));
      }
      mail.setSentDate(new Date());
      mail.setSubject(subject(messages), StandardCharsets.UTF_8.name());
      mail.setText(text(messages), StandardCharsets.UTF_8.name());
      Transport.send(mail);
    } catch (MessagingException e) {
      throw new IOException(target.server().getHost() + ": " + e.getMessage(), e);
    }
  }

  private Session session() {
    boolean tls = target.server().getScheme().equals("smtps");
    int port = target.server().getPort();
    Properties properties = new Properties();
    properties.put("mail.smtp.host", target.server().getHost());
    properties.put(
        "mail.smtp.port", String.valueOf(port > 0 ? port : tls ? SUBMISSION_TLS : SUBMISSION));
    properties.put("mail.smtp.ssl.enable", String.valueOf(tls));
    properties.put("mail.smtp.starttls.enable", "true");
    // A password is sent over TLS only.
    properties.put(
        "mail.smtp.starttls.required", String.valueOf(!tls && target.password().isPresent()));
    properties.put("mail.smtp.ssl.checkserveridentity", "true");
    properties.put("mail.smtp.auth", String.valueOf(target.user().isPresent()));
    properties.put("mail.smtp.connectiontimeout", PATIENCE_MILLIS);
    properties.put("mail.smtp.timeout", PATIENCE_MILLIS);
    properties.put("mail.smtp.writetimeout", PATIENCE_MILLIS);
    return Session.getInstance(
        properties,
        new Authenticator() {
          @Override
          protected PasswordAuthentication getPasswordAuthentication() {
            return new PasswordAuthentication(
                target.user().orElse(""), target.password().map(p -> p.reveal()).orElse(""));
          }
        });
  }

  private static String subject(List<AlertMessage> messages) {
    String first = MessageText.line(messages.get(0)).replaceAll("\\p{Cntrl}", " ");
    String subject =
        messages.size() == 1 ? first : "%d alerts: %s".formatted(messages.size(), first);
    return "[dusky] " + subject.substring(0, Math.min(subject.length(), MOST_SUBJECT));
  }

  private static String text(List<AlertMessage> messages) {
    StringBuilder text = new StringBuilder();
    for (AlertMessage message : messages) {
      text.append(MessageText.line(message))
          .append("\r\n  ")
          .append(message.command())
          .append("\r\n  ")
          .append(message.at())
          .append(", alert ")
          .append(message.alertId())
          .append("\r\n\r\n");
    }
    return text.toString();
  }

  /** A mail whose id is the same in each attempt. */
  private static final class Identified extends MimeMessage {

    private final String identity;

    Identified(Session session, String identity) {
      super(session);
      this.identity = identity;
    }

    @Override
    protected void updateMessageID() throws MessagingException {
      setHeader("Message-ID", "<" + identity + "@dusky>");
    }
  }
}
