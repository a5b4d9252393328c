using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting.Secrets;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Kinetra.Server.Hosting;

/// <summary>Says in the OpenAPI document what the values with their own JSON form look like.</summary>
static class OpenApi
{
    public static void AddKinetraOpenApi(this IServiceCollection services) => services.AddOpenApi(options =>
    {
        options.AddDocumentTransformer((document, _, _) =>
        {
            document.Info = new OpenApiInfo { Title = "Kinetra", Version = "1", Description = "Who hears what: the live show of one installation." };
            document.Servers = [];
            SharedAnswers.TakeStandInsOut(document);
            return Task.CompletedTask;
        });
        options.AddOperationTransformer((operation, context, _) =>
        {
            // What a handler reads off the route by itself is a parameter too.
            operation.Parameters ??= [];
            foreach (var name in System.Text.RegularExpressions.Regex.Matches(context.Description.RelativePath ?? "", "{([a-z]+)}").Select(m => m.Groups[1].Value))
            {
                if (operation.Parameters.All(p => p.Name != name))
                {
                    operation.Parameters.Add(new OpenApiParameter
                    {
                        Name = name,
                        In = ParameterLocation.Path,
                        Required = true,
                        Schema = new OpenApiSchema { Type = JsonSchemaType.String, Pattern = ShowFileSchema.IdPattern },
                    });
                }
            }

            foreach (var parameter in operation.Parameters)
            {
                if (parameter is { Name: "revision", Schema: OpenApiSchema revision })
                {
                    revision.Minimum = "0";
                }
                else if (parameter is { In: ParameterLocation.Path, Schema: OpenApiSchema { Type: JsonSchemaType.String, Format: null } id })
                {
                    id.Pattern = ShowFileSchema.IdPattern;
                }
            }

            return Task.CompletedTask;
        });
        options.AddSchemaTransformer((schema, context, _) =>
        {
            var type = Nullable.GetUnderlyingType(context.JsonTypeInfo.Type) ?? context.JsonTypeInfo.Type;
            if (type == typeof(Gain))
            {
                schema.Type = null;
                schema.Description = "dB from -120 to 12, or off (nothing passes).";
                schema.AnyOf =
                [
                    new OpenApiSchema { Type = JsonSchemaType.Number, Minimum = "-120", Maximum = "12" },
                    new OpenApiSchema { Type = JsonSchemaType.String, Enum = ["off"] },
                ];
            }
            else if (type == typeof(ImmutableArray<Point>))
            {
                schema.Items = new OpenApiSchema { Type = JsonSchemaType.String, Pattern = Point.Pattern };
            }
            else if (type == typeof(Point))
            {
                schema.Type = JsonSchemaType.String;
                schema.Pattern = Point.Pattern;
                schema.Description = $"A point in the signal: {Point.Allowed}.";
            }
            else if (type == typeof(Secret))
            {
                schema.Type = JsonSchemaType.String;
                schema.WriteOnly = true;
                schema.MinLength = 1;
                schema.MaxLength = Secret.MaxLength;
            }
            else if (type == typeof(SourceId) || type == typeof(MixId) || type == typeof(CableId) || type == typeof(ProcessorId)
                || type == typeof(DeviceId) || type == typeof(AppId) || type == typeof(DestinationId) || type == typeof(PromiseId)
                || type == typeof(PadId) || type == typeof(PadSetId) || type == typeof(CueId) || type == typeof(TrackId) || type == typeof(StreamId))
            {
                schema.Type = type == context.JsonTypeInfo.Type ? JsonSchemaType.String : JsonSchemaType.String | JsonSchemaType.Null;
                schema.Pattern = ShowFileSchema.IdPattern;
            }
            else if (type == typeof(Source) || type == typeof(Mix) || type == typeof(Send) || type == typeof(Cable) || type == typeof(CableFeed) || type == typeof(Processor) || type == typeof(ProcessorType)
                || type == typeof(Destination) || type == typeof(Wishes) || type == typeof(Device) || type == typeof(DeviceInputChannel) || type == typeof(Pad) || type == typeof(PadSet) || type == typeof(Cue) || type == typeof(Broadcast) || type == typeof(AirServer))
            {
                // What the API gives is always whole; defaults are for show files.
                schema.Required = (schema.Properties ?? new Dictionary<string, IOpenApiSchema>()).Keys.ToHashSet();
            }

            Limit(schema, context);
            return Task.CompletedTask;
        });
    });

    // What holds of a field beside its type: from the rig's own limits, or from its attributes.
    private static void Limit(OpenApiSchema schema, OpenApiSchemaTransformerContext context)
    {
        var field = context.JsonPropertyInfo;
        var parameter = (context.ParameterDescription?.ParameterDescriptor as IParameterInfoParameterDescriptor)?.ParameterInfo;
        object[] attributes = [.. field?.AttributeProvider?.GetCustomAttributes(inherit: false) ?? [], .. parameter?.GetCustomAttributes(inherit: false) ?? []];
        var like = attributes.OfType<LikeAttribute>().FirstOrDefault();
        var limits = like is not null ? ShowFileSchema.LimitsOf(like.Of, like.Field) : field is not null ? ShowFileSchema.LimitsOf(field.DeclaringType, field.Name) : [];
        foreach (var (keyword, value) in limits)
        {
            switch (keyword)
            {
                case "minimum":
                    schema.Minimum = value.ToJsonString();
                    break;
                case "maximum":
                    schema.Maximum = value.ToJsonString();
                    break;
                case "minLength":
                    schema.MinLength = value.GetValue<int>();
                    break;
                case "maxLength":
                    schema.MaxLength = value.GetValue<int>();
                    break;
                case "maxItems":
                    schema.MaxItems = value.GetValue<int>();
                    break;
                case "pattern":
                    schema.Pattern = value.GetValue<string>();
                    break;
            }
        }

        IEnumerable<string>? keys = (field?.DeclaringType, field?.Name) switch
        {
            _ when attributes.OfType<KeysAttribute>().FirstOrDefault() is { } named => named.Keys,
            ({ } of, "type") when of == typeof(Processor) => ProcessorTypes.All.Select(t => t.Key),
            ({ } of, "key") when of == typeof(ProcessorType) => ProcessorTypes.All.Select(t => t.Key),
            ({ } of, "key") when of == typeof(ChainPreset) => ChainPresets.All.Select(p => p.Key),
            _ => null,
        };
        if (keys is not null)
        {
            schema.Enum = [.. keys.Select(k => JsonValue.Create(k))];
        }
    }
}
