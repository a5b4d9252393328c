using System.Net.Sockets;
using Kinetra.Server.CommandLine;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Hosting;

return args switch
{
    [ActionWords.TypeScriptVerb] => Print(ActionWords.TypeScript()),
    [ActionWords.MarkdownVerb, var file] => ActionWords.WriteInto(file),
    [LiveTypes.Verb] => Print(LiveTypes.TypeScript()),
    [SoundDecoding.Verb, var input, var output] => SoundDecoding.RunChild(input, output),
    _ when Commands.Knows(args) => Commands.Run(args, Console.Out, Console.Error),
    ["serve", .. var rest] => await ServeAsync(rest),
    [] => await ServeAsync([]),

    // The build's document generator starts the program like this, to read the API off it.
    [['-', '-', 'a', 'p', 'p', 'l', ..]] => await ServeAsync([]),
    _ => Fail($"{string.Join(' ', args)}: not understood. Usage: {ServerOptions.Usage}"),
};

static async Task<int> ServeAsync(IReadOnlyList<string> arguments)
{
    try
    {
        var options = ServerOptions.Parse(arguments);
        var app = Application.Build(options);
        await app.StartAsync();
        Console.WriteLine($"Kinetra serves on {app.Urls.First()}");
        await app.WaitForShutdownAsync();
        return 0;
    }
    catch (FormatException e)
    {
        return Fail(e.Message);
    }
    catch (IOException e) when (e.InnerException is SocketException or Microsoft.AspNetCore.Connections.AddressInUseException)
    {
        return Fail($"{e.Message} Something else listens there; --port chooses another.");
    }
}

static int Print(string text)
{
    Console.Out.Write(text);
    return 0;
}

static int Fail(string message)
{
    Console.Error.WriteLine(message);
    return 1;
}
