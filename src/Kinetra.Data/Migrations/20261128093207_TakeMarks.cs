using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class TakeMarks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "marks",
                table: "takes",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'[]'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "marks",
                table: "takes");
        }
    }
}
