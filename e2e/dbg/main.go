package main
import ("context";"fmt";"os";"time";"github.com/chromedp/chromedp";"grapnel/e2e/stage")
func main(){
 ctx,end,err:=stage.Browse(context.Background()); if err!=nil{panic(err)}; defer end()
 ctx,c:=context.WithTimeout(ctx,20*time.Second); defer c()
 var out string
 err=chromedp.Run(ctx,stage.On(stage.Phone),chromedp.Navigate(os.Args[1]),chromedp.Click(stage.Button("Ines"),chromedp.BySearch,chromedp.NodeVisible),chromedp.Sleep(time.Second),chromedp.Navigate(os.Args[1]+os.Args[2]),chromedp.Sleep(time.Second),chromedp.Evaluate(os.Args[3],&out))
 fmt.Println(out,err)
}
