package sharptally.cli.notice;

import jakarta.mail.Authenticator;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.PasswordAuthentication;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import sharptally.api.job.keep.Folders;
import sharptally.formats.job.Notice;
import sharptally.formats.run.Json;
import sharptally.report.findings.Redaction;

/**
 * Tells people and programs what there is to tell of a job, as its job file wants it.
 *
 * @param jobFile its path
 * @param redact whether values are hidden, whatever the job file says
 * @param environment where passwords are looked up
 */
public record Notifying(News news, Optional<String> jobFile, boolean redact, Map<String, String> environment) {
    private static final Duration PATIENCE = Duration.ofSeconds(30);

    /**
     * @return for each notice that could not be given a sentence that says why
     */
    public List<String> tell(List<Notice> notices) {
        List<String> all = new ArrayList<>();
        for (Notice notice : notices) {
            List<String> failures = new ArrayList<>();
            if (news.isDue(notice.when())) {
                Redaction redaction = redact || notice.redact() ? Redaction.hiding() : Redaction.none();
                notice.mail()
                        .ifPresent(mail -> attempt(
                                "mail to " + String.join(", ", mail.to()), () -> send(mail, redaction), failures));
                notice.post().ifPresent(url -> attempt("POST to " + hostOf(url), () -> post(url, redaction), failures));
            }
            failures.forEach(failure -> all.add(notice.masked(failure)));
        }
        return all;
    }

    private interface Telling {
        void run() throws IOException, MessagingException, InterruptedException;
    }

    private static void attempt(String what, Telling telling, List<String> failures) {
        try {
            telling.run();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            failures.add(what + " was not sent: interrupted");
        } catch (IOException | MessagingException | IllegalArgumentException e) {
            failures.add(what + " was not sent: "
                    + String.valueOf(e.getMessage()).lines().findFirst().orElse(""));
        }
    }

    /** A URL may hold a secret in its path, so only its host is told. */
    private static String hostOf(String url) {
        return url.replaceFirst("^https?://([^/?#]*@)?([^/?#:]*)(:[0-9]+)?.*$", "$2");
    }

    private void post(String url, Redaction redaction) throws IOException, InterruptedException {
        HttpClient client = HttpClient.newBuilder().connectTimeout(PATIENCE).build();
        HttpResponse<Void> answer = client.send(
                HttpRequest.newBuilder(URI.create(url))
                        .timeout(PATIENCE)
                        .header("Content-Type", "application/json")
                        .POST(HttpRequest.BodyPublishers.ofString(
                                Json.MAPPER.writeValueAsString(news.facts(redaction))))
                        .build(),
                HttpResponse.BodyHandlers.discarding());
        if (answer.statusCode() / 100 != 2) {
            throw new IOException("it answered " + answer.statusCode());
        }
    }

    private void send(Notice.Mail mail, Redaction redaction) throws IOException, MessagingException {
        MimeMessage message = new MimeMessage(session(mail));
        message.setFrom(new InternetAddress(mail.from()));
        for (String to : mail.to()) {
            message.addRecipient(Message.RecipientType.TO, new InternetAddress(to));
        }
        String job = jobFile.map(s -> Path.of(s).getFileName().toString()).orElse("");
        message.setSubject("sharp-tally " + job + ": " + news.title(redaction), StandardCharsets.UTF_8.name());
        MimeBodyPart text = new MimeBodyPart();
        text.setText(news.text(redaction), StandardCharsets.UTF_8.name());
        MimeMultipart parts = new MimeMultipart(text);
        Optional<Path> attached = mail.attach() ? Optional.of(Files.createTempDirectory("notice")) : Optional.empty();
        try {
            Optional<Path> written = attached.isPresent() ? news.page(redaction, attached.get()) : Optional.empty();
            if (written.isPresent()) {
                MimeBodyPart page = new MimeBodyPart();
                page.attachFile(written.get().toFile(), "text/html; charset=utf-8", "base64");
                parts.addBodyPart(page);
            }
            message.setContent(parts);
            Transport.send(message);
        } finally {
            if (attached.isPresent()) {
                Folders.delete(attached.get());
            }
        }
    }

    private Session session(Notice.Mail mail) {
        String[] server = mail.server().split(":");
        Properties settings = new Properties();
        settings.put("mail.smtp.host", server[0]);
        settings.put("mail.smtp.port", server[1]);
        String millis = Long.toString(PATIENCE.toMillis());
        settings.put("mail.smtp.connectiontimeout", millis);
        settings.put("mail.smtp.timeout", millis);
        settings.put("mail.smtp.writetimeout", millis);
        if (mail.tls() == Notice.Tls.STARTTLS) {
            settings.put("mail.smtp.starttls.enable", "true");
            settings.put("mail.smtp.starttls.required", "true");
        } else if (mail.tls() == Notice.Tls.IMPLICIT) {
            settings.put("mail.smtp.ssl.enable", "true");
        }
        settings.put("mail.smtp.ssl.checkserveridentity", "true");
        if (mail.user().isEmpty()) {
            return Session.getInstance(settings);
        }
        String variable = mail.passwordVariable().orElse("");
        String password = environment.get(variable);
        if (password == null) {
            throw new IllegalArgumentException("the variable " + variable + " holds no password");
        }
        settings.put("mail.smtp.auth", "true");
        return Session.getInstance(settings, new Authenticator() {
            @Override
            protected PasswordAuthentication getPasswordAuthentication() {
                return new PasswordAuthentication(mail.user().orElseThrow(), password);
            }
        });
    }
}
