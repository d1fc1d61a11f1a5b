using System.Buffers.Binary;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Fralto.Bench;

/// <summary>Just enough of an MQTT 3.1.1 broker to send prepared messages to one client at a steady rate; what it sends is bytes from
/// memory, so that it never is what limits.</summary>
internal static class FloodBroker
{
    private const int Topics = 1000;
    private const int Values = 16;

    public static string Topic(int index) => string.Create(CultureInfo.InvariantCulture, $"plant/hall/{index:D4}");

    /// <summary>Serves one client until it goes.</summary>
    /// <param name="rate">Messages a second; 0 for as many as the client takes.</param>
    public static async Task RunAsync(int rate)
    {
        var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        Console.WriteLine(((IPEndPoint)listener.LocalEndpoint).Port);
        using var client = await listener.AcceptTcpClientAsync();
        client.NoDelay = true;
        var stream = client.GetStream();
        var topics = 0;
        while (topics < Topics)
        {
            var (type, body) = await ReadAsync(stream);
            if (type == 0x10)
                await stream.WriteAsync(new byte[] { 0x20, 2, 0, 0 });
            if (type != 0x82)
                continue;
            var asked = 0;
            for (var at = 2; at < body.Length; asked++)
                at += 2 + BinaryPrimitives.ReadUInt16BigEndian(body.AsSpan(at)) + 1;
            topics += asked;
            byte[] answer = [body[0], body[1], .. new byte[asked]];
            await stream.WriteAsync(
                new byte[] { 0x90 }
                    .Concat(Length(answer.Length))
                    .Concat(answer)
                    .ToArray()
            );
        }
        var rounds = Enumerable.Range(0, Values).Select(Round).ToArray();
        _ = Task.Run(async () =>
        {
            while (true)
                await ReadAsync(stream);
        });
        try
        {
            var watch = Stopwatch.StartNew();
            for (long sent = 0, round = 0; ; round++, sent += Topics)
            {
                await stream.WriteAsync(rounds[round % Values]);
                if (rate > 0 && sent / (double)rate - watch.Elapsed.TotalSeconds is > 0.001 and var ahead)
                    await Task.Delay(TimeSpan.FromSeconds(ahead));
            }
        }
        catch (IOException)
        {
            // The client has gone.
        }
    }

    private static byte[] Round(int value)
    {
        using var bytes = new MemoryStream();
        for (var i = 0; i < Topics; i++)
        {
            var topic = Encoding.UTF8.GetBytes(Topic(i));
            var payload = Encoding.UTF8.GetBytes(
                string.Create(CultureInfo.InvariantCulture, $"{{\"v\":{(value * 2000 + i) % 32767}.25,\"unit\":\"degC\",\"n\":{value}}}")
            );
            bytes.WriteByte(0x30);
            bytes.Write(Length(2 + topic.Length + payload.Length));
            bytes.Write([(byte)(topic.Length >> 8), (byte)topic.Length]);
            bytes.Write(topic);
            bytes.Write(payload);
        }
        return bytes.ToArray();
    }

    private static async Task<(byte Type, byte[] Body)> ReadAsync(NetworkStream stream)
    {
        var one = new byte[1];
        await stream.ReadExactlyAsync(one);
        var type = one[0];
        var (length, shift) = (0, 0);
        do
        {
            await stream.ReadExactlyAsync(one);
            length |= (one[0] & 0x7F) << shift;
            shift += 7;
        } while ((one[0] & 0x80) != 0);
        var body = new byte[length];
        await stream.ReadExactlyAsync(body);
        return (type, body);
    }

    private static byte[] Length(int length)
    {
        var bytes = new List<byte>();
        do
        {
            bytes.Add((byte)(length % 128 | (length >= 128 ? 0x80 : 0)));
            length /= 128;
        } while (length > 0);
        return [.. bytes];
    }
}
