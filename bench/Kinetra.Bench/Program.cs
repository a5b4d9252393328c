using Kinetra.Bench;

switch (args)
{
    case ["speed"]:
        Speed.Print(json: false);
        return 0;
    case ["speed", "--json"]:
        Speed.Print(json: true);
        return 0;
    case ["figures", var folder]:
        Figures.Write(Path.Combine(folder, "curves"));
        Tables.Write(Path.Combine(folder, "signal.md"));
        ShowFiles.Write(folder);
        return 0;
    default:
        Console.Error.WriteLine("Kinetra.Bench: allowed: speed [--json], figures FOLDER.");
        return 2;
}
