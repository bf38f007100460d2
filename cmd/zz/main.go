package main
import ("os";"fmt";"github.com/go-json-experiment/json";"braxel/internal/logfile";"braxel/internal/core/table")
func main(){ for _,f:=range os.Args[1:]{ b,_:=os.ReadFile(f); s,_,err:=logfile.ReadSheet(f,b); if err!=nil{fmt.Println("{\"error\":",err,"}");continue}; r:=table.Read(s,table.Picks{}); t,_:=json.Marshal(r,json.Deterministic(true)); fmt.Println(string(t))}}
