using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class TrackPoint : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "point",
                table: "tracks",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "point",
                table: "tracks");
        }
    }
}
