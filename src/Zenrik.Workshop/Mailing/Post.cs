using System.Net.Sockets;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using Zenrik.Core;

namespace Zenrik.Workshop.Mailing;

/// <summary>A text that goes to somebody.</summary>
/// <param name="To">One e-mail address.</param>
/// <param name="Subject">One line.</param>
/// <param name="Text">Plain text.</param>
public sealed record Letter(string To, string Subject, string Text);

/// <summary>Takes letters where they go. Off by default: a workshop's words are its own until it says otherwise.</summary>
public abstract class Post
{
    /// <summary>False where the workshop sends no mail: then nothing offers to.</summary>
    public abstract bool IsOn { get; }

    /// <summary>
    /// Sends it, or says in a sentence why not. A use case calls it last, with everything decided and nothing stored yet:
    /// what could not be sent leaves no trace, and a letter is on its way before the book says so.
    /// </summary>
    public async Task<Refusal?> Send(Letter letter, CancellationToken stop)
    {
        if (!IsOn)
        {
            return new Refusal(RefusalReason.Conflict, "No mail server is named for this workshop. Nothing was sent.");
        }

        if (!IsAddress(letter.To))
        {
            return new Refusal(RefusalReason.Invalid, "That is no e-mail address. Nothing was sent.");
        }

        var message = new MimeMessage
        {
            Subject = letter.Subject,
            Body = new TextPart("plain") { Text = letter.Text },
        };
        message.To.Add(MailboxAddress.Parse(letter.To.Trim()));
        return await Deliver(message, stop);
    }

    /// <summary>Something@somewhere, one of it, without names or comments about it.</summary>
    public static bool IsAddress(string? text) =>
        text?.Trim() is { Length: > 0 and <= 200 } one
        && !one.Any(c => char.IsControl(c) || char.IsWhiteSpace(c))
        && MailboxAddress.TryParse(one, out var parsed)
        && parsed.Address == one
        && one.IndexOf('@', StringComparison.Ordinal) > 0;

    protected abstract Task<Refusal?> Deliver(MimeMessage message, CancellationToken stop);
}

/// <summary>The workshop sends no mail.</summary>
public sealed class NoPost : Post
{
    public override bool IsOn => false;

    protected override Task<Refusal?> Deliver(MimeMessage message, CancellationToken stop) =>
        throw new InvalidOperationException("nothing is sent where there is no post");
}

/// <summary>Letters are kept in a folder, one file each, for a workshop that tries things out.</summary>
public sealed class FolderPost(string folder, string from) : Post
{
    public override bool IsOn => true;

    protected override async Task<Refusal?> Deliver(MimeMessage message, CancellationToken stop)
    {
        message.From.Add(MailboxAddress.Parse(from));
        try
        {
            Directory.CreateDirectory(folder);
            await message.WriteToAsync(Path.Combine(folder, $"{Guid.CreateVersion7():N}.eml"), stop);
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new Refusal(
                RefusalReason.Conflict,
                "The folder letters are kept in cannot be written to. Nothing was sent."
            );
        }
    }
}

/// <summary>The organisation's mail server.</summary>
/// <param name="From">Whom letters come from.</param>
/// <param name="User">Null: the server asks for none.</param>
/// <param name="Security">How the way there is kept to oneself.</param>
public sealed record MailServer(
    string Host,
    int Port,
    string From,
    string? User,
    string? Password,
    SecureSocketOptions Security
);

/// <summary>Letters go out by SMTP (RFC 5321).</summary>
public sealed class SmtpPost(MailServer server) : Post
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    public override bool IsOn => true;

    protected override async Task<Refusal?> Deliver(MimeMessage message, CancellationToken stop)
    {
        message.From.Add(MailboxAddress.Parse(server.From));
        using var client = new SmtpClient { Timeout = (int)Patience.TotalMilliseconds };
        using var enough = CancellationTokenSource.CreateLinkedTokenSource(stop);
        enough.CancelAfter(Patience);
        try
        {
            await client.ConnectAsync(server.Host, server.Port, server.Security, enough.Token);
            if (server.User is not null)
            {
                await client.AuthenticateAsync(server.User, server.Password ?? "", enough.Token);
            }

            _ = await client.SendAsync(message, enough.Token);
            return null;
        }
        catch (Exception e) when (Why(e) is not null && !stop.IsCancellationRequested)
        {
            return new Refusal(RefusalReason.Conflict, $"{Why(e)} Nothing was sent, and the book has not changed.");
        }
        finally
        {
            await Leave(client);
        }
    }

    /// <summary>What went wrong, as a sentence; null for what is a fault of ours.</summary>
    private string? Why(Exception e) =>
        e switch
        {
            AuthenticationException => "The mail server does not take the workshop's name and password.",
            SmtpCommandException { ErrorCode: SmtpErrorCode.RecipientNotAccepted } =>
                "The mail server does not take that address.",
            SmtpCommandException => "The mail server has refused the letter.",
            SslHandshakeException => "The mail server's certificate is not trusted here.",
            SocketException or OperationCanceledException or TimeoutException =>
                $"The mail server {server.Host} does not answer.",
            IOException or ServiceNotConnectedException or ProtocolException =>
                $"The mail server {server.Host} has broken off.",
            _ => null,
        };

    /// <summary>The letter is taken or not by now; how the farewell goes changes nothing.</summary>
    private static async Task Leave(SmtpClient client)
    {
        try
        {
            await client.DisconnectAsync(quit: true, CancellationToken.None);
        }
        catch (Exception e) when (e is IOException or ProtocolException or SocketException or InvalidOperationException)
        { }
    }
}
