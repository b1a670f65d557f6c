using System.Globalization;
using MailKit.Security;
using Zenrik.Workshop.Mailing;

namespace Zenrik.Web.Hosting;

/// <summary>Mail as the configuration names it: a server, a folder, or, as nothing is said, none.</summary>
internal static class MailHosting
{
    /// <exception cref="InvalidOperationException">It says something that cannot be meant; the sentence names the remedy.</exception>
    public static void AddMail(this IServiceCollection services, IConfiguration configuration) =>
        services.AddSingleton(PostOf(configuration.GetSection("Mail")));

    private static Post PostOf(IConfigurationSection mail)
    {
        var (host, folder, from) = (mail["Host"], mail["Folder"], mail["From"]);
        if (host is not { Length: > 0 } && folder is not { Length: > 0 })
        {
            return new NoPost();
        }

        if (host is { Length: > 0 } && folder is { Length: > 0 })
        {
            throw new InvalidOperationException(
                "Mail names a server and a folder. Leave Mail:Host or Mail:Folder out."
            );
        }

        if (!Post.IsAddress(from))
        {
            throw new InvalidOperationException("Mail:From must be the e-mail address letters come from.");
        }

        if (folder is { Length: > 0 })
        {
            return new FolderPost(folder, from!);
        }

        var security = mail["Security"] ?? "starttls";
        if (security is not ("starttls" or "tls" or "none"))
        {
            throw new InvalidOperationException($"Mail:Security is \"{security}\"; it is starttls, tls or none.");
        }

        if (mail["User"] is { Length: > 0 } && security == "none")
        {
            throw new InvalidOperationException(
                "Mail:User would send its password for everybody to read. Set Mail:Security to starttls or tls."
            );
        }

        var port =
            mail["Port"]
            ?? (
                security == "tls" ? "465"
                : security == "none" ? "25"
                : "587"
            );
        if (!int.TryParse(port, NumberStyles.None, CultureInfo.InvariantCulture, out var at) || at is < 1 or > 65535)
        {
            throw new InvalidOperationException($"Mail:Port is \"{port}\"; a port is 1 to 65535.");
        }

        return new SmtpPost(
            new MailServer(
                host!,
                at,
                from!,
                mail["User"] is { Length: > 0 } user ? user : null,
                Password(mail),
                security switch
                {
                    "tls" => SecureSocketOptions.SslOnConnect,
                    "none" => SecureSocketOptions.None,
                    _ => SecureSocketOptions.StartTls,
                }
            )
        );
    }

    private static string? Password(IConfigurationSection mail)
    {
        if (mail["PasswordFile"] is not { Length: > 0 } file)
        {
            return null;
        }

        try
        {
            return File.ReadAllText(file).TrimEnd('\r', '\n');
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InvalidOperationException("Mail:PasswordFile names a file that cannot be read.", e);
        }
    }
}
