using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Text;
using Kinetra.Core.Editing;

namespace Kinetra.Core.Hands;

/// <summary>A message of Open Sound Control.</summary>
/// <param name="Address">Its address pattern, from its slash.</param>
/// <param name="Arguments">What it tells: <see cref="double"/>, <see cref="bool"/>, <see cref="string"/>; null for nil, and for a blob, which nothing here takes.</param>
/// <param name="Time">When it is meant, seconds since 1900-01-01; null: at once.</param>
public sealed record OscMessage(string Address, ImmutableArray<object?> Arguments, double? Time);

/// <summary>
/// Reads what comes as Open Sound Control 1.0 (M. Wright: The Open Sound Control 1.0 Specification, 2002): messages, and bundles of them with times. Whatever comes, it either is
/// read or is told to be wrong, and where.
/// </summary>
public static class OscPacket
{
    /// <summary>The most messages of one packet, and how deep bundles may lie in each other.</summary>
    public const int MostMessages = 256, Deepest = 8;

    private const string Allowed = "a message or a bundle of Open Sound Control 1.0";

    /// <summary>Reads a packet.</summary>
    /// <param name="packet">Its bytes.</param>
    /// <param name="problem">What is wrong with it, and at which byte; null: nothing.</param>
    /// <returns>Its messages in order; empty where it is wrong.</returns>
    public static ImmutableArray<OscMessage> Read(ReadOnlySpan<byte> packet, out RigProblem? problem)
    {
        var messages = ImmutableArray.CreateBuilder<OscMessage>();
        problem = Element(packet, 0, null, 0, messages) is { } wrong ? new RigProblem($"byte {wrong.At}", wrong.What, Allowed) : null;
        return problem is null ? messages.ToImmutable() : [];
    }

    private sealed record Wrong(int At, string What);

    private static Wrong? Element(ReadOnlySpan<byte> bytes, int at, double? time, int depth, ImmutableArray<OscMessage>.Builder messages)
    {
        if (bytes.Length == 0 || bytes.Length % 4 != 0)
        {
            return new(at, "Its length is no multiple of four bytes.");
        }

        if (bytes[0] == (byte)'/')
        {
            return messages.Count >= MostMessages ? new(at, $"It holds more than {MostMessages} messages.") : Message(bytes, at, time, messages);
        }

        if (!bytes.StartsWith("#bundle\0"u8))
        {
            return new(at, "It is neither a message, which begins with a slash, nor a bundle.");
        }

        if (depth >= Deepest)
        {
            return new(at, $"Bundles lie more than {Deepest} deep in each other.");
        }

        if (bytes.Length < 16)
        {
            return new(at + 8, "A bundle without its time.");
        }

        var tag = BinaryPrimitives.ReadUInt64BigEndian(bytes[8..]);
        double? own = tag == 1 ? null : tag / 4_294_967_296.0;
        for (var next = 16; next < bytes.Length;)
        {
            var size = BinaryPrimitives.ReadInt32BigEndian(bytes[next..]);
            if (size < 0 || size > bytes.Length - next - 4)
            {
                return new(at + next, "An element of a bundle is longer than what is there.");
            }

            if (Element(bytes.Slice(next + 4, size), at + next + 4, own, depth + 1, messages) is { } wrong)
            {
                return wrong;
            }

            next += 4 + size;
        }

        return null;
    }

    private static Wrong? Message(ReadOnlySpan<byte> bytes, int at, double? time, ImmutableArray<OscMessage>.Builder messages)
    {
        var next = 0;
        if (Text(bytes, ref next) is not { } address)
        {
            return new(at, "Its address does not end, or is no text.");
        }

        // Older senders leave the types out where there is nothing to tell.
        if (next == bytes.Length)
        {
            messages.Add(new(address, [], time));
            return null;
        }

        var types = next;
        if (Text(bytes, ref next) is not [',', .. var tags])
        {
            return new(at + types, "Its types do not begin with a comma, or do not end.");
        }

        var arguments = ImmutableArray.CreateBuilder<object?>();
        foreach (var tag in tags)
        {
            var before = next;
            if (!Argument(tag, bytes, ref next, arguments))
            {
                return new(at + before, $"An argument of type “{(char.IsControl(tag) ? '?' : tag)}” is not there, or there is no such type.");
            }
        }

        if (next != bytes.Length)
        {
            return new(at + next, "More comes than its types say.");
        }

        messages.Add(new(address, arguments.ToImmutable(), time));
        return null;
    }

    private static bool Argument(char tag, ReadOnlySpan<byte> bytes, ref int next, ImmutableArray<object?>.Builder arguments)
    {
        var rest = bytes[next..];
        switch (tag)
        {
            case 'i' or 'f' or 'c' or 'r' or 'm' when rest.Length < 4:
            case 'h' or 'd' or 't' when rest.Length < 8:
                return false;
            case 'i':
                arguments.Add((double)BinaryPrimitives.ReadInt32BigEndian(rest));
                break;
            case 'f':
                arguments.Add((double)BinaryPrimitives.ReadSingleBigEndian(rest));
                break;
            case 'h':
                arguments.Add((double)BinaryPrimitives.ReadInt64BigEndian(rest));
                break;
            case 'd':
                arguments.Add(BinaryPrimitives.ReadDoubleBigEndian(rest));
                break;
            case 'c' or 'r' or 'm' or 't':
                arguments.Add(null);
                break;
            case 's' or 'S':
                if (Text(bytes, ref next) is not { } text)
                {
                    return false;
                }

                arguments.Add(text);
                return true;
            case 'b':
                return Blob(rest, ref next, arguments);
            case 'T' or 'I':
                arguments.Add(true);
                return true;
            case 'F':
                arguments.Add(false);
                return true;
            case 'N':
                arguments.Add(null);
                return true;
            case '[' or ']':
                return true;
            default:
                return false;
        }

        next += tag is 'h' or 'd' or 't' ? 8 : 4;
        return true;
    }

    private static bool Blob(ReadOnlySpan<byte> rest, ref int next, ImmutableArray<object?>.Builder arguments)
    {
        if (rest.Length < 4 || BinaryPrimitives.ReadInt32BigEndian(rest) is not (>= 0 and var size) || size > rest.Length - 4)
        {
            return false;
        }

        arguments.Add(null);
        next += 4 + ((size + 3) / 4 * 4);
        return next - 4 <= int.MaxValue && 4 + ((size + 3) / 4 * 4) <= rest.Length;
    }

    // Ends with a zero byte, filled with more to a multiple of four.
    private static string? Text(ReadOnlySpan<byte> bytes, ref int next)
    {
        var length = bytes[next..].IndexOf((byte)0);
        if (length < 0 || next + ((length / 4) + 1) * 4 > bytes.Length)
        {
            return null;
        }

        var text = bytes.Slice(next, length);
        next += ((length / 4) + 1) * 4;
        try
        {
            return Strict.GetString(text);
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    // The standard says ASCII; names of other scripts come as UTF-8.
    private static readonly UTF8Encoding Strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);
}
