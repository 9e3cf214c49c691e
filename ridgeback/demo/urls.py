from django.urls import path

from ridgeback.demo import views

app_name = "demo"
urlpatterns = [path("demo/", views.open_demo, name="open")]
