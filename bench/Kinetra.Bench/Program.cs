using Kinetra.Bench;

switch (args)
{
    case ["speed", .. var rest]:
        return Report.Run(rest);
    case ["figures", var folder]:
        Figures.Write(Path.Combine(folder, "curves"));
        Tables.Write(Path.Combine(folder, "signal.md"));
        ShowFiles.Write(folder);
        return 0;
    default:
        Console.Error.WriteLine("Kinetra.Bench: allowed: speed [PART …] [--json], figures FOLDER.");
        return 2;
}
