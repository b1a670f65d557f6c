using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Zenrik.Workshop.Tests.Mailing;

/// <summary>Speaks just enough SMTP (RFC 5321) to take letters, or to refuse whom it is told to.</summary>
internal sealed class MailServerStandIn : IAsyncDisposable
{
    private readonly TcpListener listener = new(IPAddress.Loopback, 0);
    private readonly Task served;

    private MailServerStandIn(string? refuses)
    {
        listener.Start();
        served = Serve(refuses);
    }

    public static MailServerStandIn Start(string? refuses = null) => new(refuses);

    public int Port => ((IPEndPoint)listener.LocalEndpoint).Port;

    /// <summary>Letters as they came.</summary>
    public List<string> Letters { get; } = [];

    public async ValueTask DisposeAsync()
    {
        listener.Stop();
        await served;
    }

    private async Task Serve(string? refuses)
    {
        try
        {
            while (true)
            {
                using var client = await listener.AcceptTcpClientAsync();
                await Talk(client, refuses);
            }
        }
        catch (Exception e)
            when (e is SocketException or ObjectDisposedException or IOException or InvalidOperationException) { }
    }

    private async Task Talk(TcpClient client, string? refuses)
    {
        await using var stream = client.GetStream();
        using var reader = new StreamReader(stream, Encoding.ASCII);
        await using var writer = new StreamWriter(stream, Encoding.ASCII) { NewLine = "\r\n", AutoFlush = true };
        await writer.WriteLineAsync("220 stand-in");
        while (await reader.ReadLineAsync() is { } line)
        {
            if (line.StartsWith("DATA", StringComparison.Ordinal))
            {
                await writer.WriteLineAsync("354 go on");
                var letter = new StringBuilder();
                while (await reader.ReadLineAsync() is { } text && text != ".")
                {
                    letter.AppendLine(text);
                }

                Letters.Add(letter.ToString());
            }

            var refused =
                refuses is not null
                && line.StartsWith("RCPT", StringComparison.Ordinal)
                && line.Contains(refuses, StringComparison.Ordinal);
            await writer.WriteLineAsync(
                refused ? "550 nobody of that name"
                : line == "QUIT" ? "221 farewell"
                : "250 good"
            );
        }
    }
}
