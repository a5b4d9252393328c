using System.Collections.Immutable;
using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.Json;
using Kinetra.Core.Engine;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Hosting;

/// <summary>
/// What OpenAPI has no words for, written for the page from the types that the server uses: the messages of the hub in both directions,
/// and which measured value stands where.
/// </summary>
public static class LiveTypes
{
    /// <summary>Said on the command line, the types are printed.</summary>
    public const string Verb = "live-types";

    /// <summary>A TypeScript module.</summary>
    public static string TypeScript()
    {
        var text = new StringBuilder("// Written by the build from the server's types. What is changed here is lost.\n");
        var records = new Queue<Type>();
        var known = new HashSet<Type>();
        string Of(Type type, NullabilityInfo? nullable)
        {
            if (Nullable.GetUnderlyingType(type) is { } value)
            {
                return $"{Of(value, null)} | null";
            }

            var plain = type switch
            {
                _ when type == typeof(string) || type == typeof(Guid) || type == typeof(DateTimeOffset) => "string",
                _ when type == typeof(bool) => "boolean",
                _ when type == typeof(Gain) => "number | \"off\"",
                _ when type == typeof(object) || type == typeof(JsonElement) || typeof(System.Text.Json.Nodes.JsonNode).IsAssignableFrom(type) => "unknown",
                { IsEnum: true } => string.Join(" | ", Enum.GetNames(type).Select(n => $"\"{n}\"")),
                { IsPrimitive: true } => "number",
                { IsGenericType: true } when type.GetGenericTypeDefinition() == typeof(ImmutableArray<>) => $"{Of(type.GenericTypeArguments[0], null)}[]",
                _ => Record(type),
            };
            return nullable?.ReadState == NullabilityState.Nullable && plain != "unknown" ? $"{plain} | null" : plain;
        }

        string Record(Type type)
        {
            if (known.Add(type))
            {
                records.Enqueue(type);
            }

            return type.Name;
        }

        var nullability = new NullabilityInfoContext();
        string Parameters(MethodInfo method) =>
            string.Join(", ", method.GetParameters().Select(p => $"{p.Name}: {Of(p.ParameterType, nullability.Create(p))}"));
        void Messages(string name, string words, IEnumerable<MethodInfo> methods)
        {
            text.Append($"\n/** {words} */\nexport interface {name} {{\n");
            foreach (var method in methods)
            {
                text.Append($"  {method.Name}: [{Parameters(method)}];\n");
            }

            text.Append("}\n");
        }

        Messages("Topics", "What the server tells every window, and with what.", typeof(IShowClient).GetMethods());
        Messages("Calls", "What a window tells the server.", typeof(ShowHub).GetMethods(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly)
            .Where(m => !m.IsVirtual));
        while (records.TryDequeue(out var record))
        {
            text.Append($"\nexport interface {record.Name} {{\n");
            foreach (var property in record.GetProperties().Where(p => p.GetMethod!.IsPublic && p.GetIndexParameters().Length == 0))
            {
                text.Append($"  {JsonNamingPolicy.CamelCase.ConvertName(property.Name)}: {Of(property.PropertyType, nullability.Create(property))};\n");
            }

            text.Append("}\n");
        }

        Places<SourceMeter>(text, "Where the values of a source stand.");
        Places<MixMeter>(text, "Where the values of a mix stand; the first five as a source's.");
        Places<ProcessorMeter>(text, "Where the values of a processor stand.");
        text.Append($"\n/** What a gate does, by its value. */\nexport const gateStates = [{string.Join(", ", Enum.GetNames<GateState>().Select(n => $"\"{n}\""))}] as const;\n");
        text.Append($"\n/** What stands before the values of the topic “levels”, and before the values of every topic, bytes. */\nexport const levelsHeaderBytes = {LevelsTopic.HeaderBytes};\nexport const analysisHeaderBytes = {AnalysisSocket.HeaderBytes};\n");
        text.Append(CultureInfo.InvariantCulture, $"\n/** Between these peaks, dBFS, a voice comes in well. */\nexport const voicePeaks = {{ from: {TrimAdvice.LowestGood}, to: {TrimAdvice.HighestGood} }} as const;\n");
        return text.ToString();
    }

    private static void Places<T>(StringBuilder text, string words)
        where T : struct, Enum
    {
        text.Append($"\n/** {words} */\nexport const {typeof(T).Name} = {{\n");
        foreach (var value in Enum.GetValues<T>())
        {
            text.Append($"  {JsonNamingPolicy.CamelCase.ConvertName(value.ToString())}: {Convert.ToInt32(value, System.Globalization.CultureInfo.InvariantCulture)},\n");
        }

        text.Append("} as const;\n");
    }
}
