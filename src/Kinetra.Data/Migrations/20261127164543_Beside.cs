using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class Beside : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "beside",
                table: "loops",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "mix",
                table: "loops",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "beside",
                table: "loops");

            migrationBuilder.DropColumn(
                name: "mix",
                table: "loops");
        }
    }
}
